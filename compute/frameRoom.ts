/** Room for frames that the page has given back: a fresh one costs more than drawing into it. */
const given: ArrayBuffer[] = [];
const MOST = 4;

/** Room for a frame of so many bytes; holds what it held before. */
export function frameRoom(bytes: number): Uint8ClampedArray<ArrayBuffer> {
  const at = given.findIndex((buffer) => buffer.byteLength === bytes);
  return new Uint8ClampedArray(at < 0 ? new ArrayBuffer(bytes) : given.splice(at, 1)[0]);
}

/** Takes a frame's room back. */
export function giveBack(buffer: ArrayBuffer): void {
  given.push(buffer);
  if (given.length > MOST) given.shift();
}
