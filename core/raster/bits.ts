/** 16-bit values as 8 bits, to the nearest. Plain loops: `from` with a function takes some fifty times as long. */
export function narrowed(data: Uint16Array): Uint8Array {
  const out = new Uint8Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = (data[i] + 128) / 257;
  return out;
}

/** 8-bit values as 16 bits: 257 times as much, so that white stays white. */
export function widened(data: Uint8Array | Uint8ClampedArray): Uint16Array {
  const out = new Uint16Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = data[i] * 257;
  return out;
}
