/** One channel of 16 bits at a smaller size: the mean over what each target pixel covers (an area filter); the same size is a copy. */
export function reducePlane(
  data: Uint16Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Uint16Array {
  if (width === toWidth && height === toHeight) return data.slice();
  const out = new Uint16Array(toWidth * toHeight);
  const across = new Float32Array(toWidth * height);
  const weights = (from: number, to: number): { first: number; share: Float32Array }[] =>
    Array.from({ length: to }, (_, i) => {
      const a = (i * from) / to;
      const b = ((i + 1) * from) / to;
      const first = Math.floor(a);
      const last = Math.min(from, Math.ceil(b));
      return {
        first,
        share: Float32Array.from(
          { length: last - first },
          (_v, n) => (Math.min(b, first + n + 1) - Math.max(a, first + n)) / (b - a),
        ),
      };
    });
  const columns = weights(width, toWidth);
  const rows = weights(height, toHeight);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < toWidth; x++) {
      const { first, share } = columns[x];
      let sum = 0;
      for (let n = 0; n < share.length; n++) sum += share[n] * data[y * width + first + n];
      across[y * toWidth + x] = sum;
    }
  }
  for (let y = 0; y < toHeight; y++) {
    const { first, share } = rows[y];
    for (let x = 0; x < toWidth; x++) {
      let sum = 0;
      for (let n = 0; n < share.length; n++) sum += share[n] * across[(first + n) * toWidth + x];
      out[y * toWidth + x] = Math.round(sum);
    }
  }
  return out;
}
