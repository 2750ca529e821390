/** One channel of whole numbers or of floats, rows from above. */
export interface TiffPlane {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array | Float32Array;
}

/** Rows of a strip. */
const ROWS = 64;

/**
 * A TIFF file of one channel of 16-bit numbers or 32-bit floats, in strips, not packed.
 * Source: "TIFF Revision 6.0", 1992; sample format 1 is whole numbers, 3 IEEE floating point.
 * @param description what its values mean
 */
export function encodeTiff({ width, height, data }: TiffPlane, description: string): Uint8Array {
  const bytes = data.BYTES_PER_ELEMENT;
  const strips = Math.ceil(height / ROWS);
  const words = Uint8Array.from(`${description}\0`, (c) => c.charCodeAt(0) & 127);
  const [LONG, ASCII, SHORT] = [4, 2, 3];
  const head = 8 + 2 + 11 * 12 + 4;
  const wordsAt = head;
  const offsetsAt = (wordsAt + words.length + 3) & ~3;
  const countsAt = offsetsAt + strips * 4;
  const pixelsAt = countsAt + strips * 4;
  const out = new Uint8Array(pixelsAt + data.length * bytes);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, 8, true);
  // A single strip's offset and count stand in the entry itself.
  const single = strips === 1;
  const entries: readonly (readonly [tag: number, type: number, count: number, value: number])[] = [
    [256, LONG, 1, width],
    [257, LONG, 1, height],
    [258, SHORT, 1, bytes * 8],
    [259, SHORT, 1, 1],
    [262, SHORT, 1, 1],
    [270, ASCII, words.length, wordsAt],
    [273, LONG, strips, single ? pixelsAt : offsetsAt],
    [277, SHORT, 1, 1],
    [278, LONG, 1, ROWS],
    [279, LONG, strips, single ? data.length * bytes : countsAt],
    [339, SHORT, 1, bytes === 4 ? 3 : 1],
  ];
  view.setUint16(8, entries.length, true);
  entries.forEach(([tag, type, count, value], n) => {
    const at = 10 + n * 12;
    view.setUint16(at, tag, true);
    view.setUint16(at + 2, type, true);
    view.setUint32(at + 4, count, true);
    view.setUint32(at + 8, value, true);
  });
  out.set(words, wordsAt);
  for (let n = 0; n < strips; n++) {
    const rows = Math.min(ROWS, height - n * ROWS);
    view.setUint32(offsetsAt + n * 4, pixelsAt + n * ROWS * width * bytes, true);
    view.setUint32(countsAt + n * 4, rows * width * bytes, true);
  }
  for (let i = 0; i < data.length; i++)
    if (bytes === 4) view.setFloat32(pixelsAt + i * 4, data[i], true);
    else view.setUint16(pixelsAt + i * 2, data[i], true);
  return out;
}
