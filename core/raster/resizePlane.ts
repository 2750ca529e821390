interface Sized {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/**
 * One channel of 16 bits at a smaller size: the mean over what each target pixel covers (an area filter); the same
 * size is a copy.
 * @param span how much of the plane is meant, px: its last column and row may stand for less than a pixel @default all of it
 */
export function reducePlane(
  { width, height, data }: Sized,
  { width: toWidth, height: toHeight }: { readonly width: number; readonly height: number },
  span: { readonly width: number; readonly height: number } = { width, height },
): Uint16Array {
  if (width === toWidth && height === toHeight) return data.slice();
  const out = new Uint16Array(toWidth * toHeight);
  const across = new Float32Array(toWidth * height);
  const weights = (from: number, to: number, most: number): { first: number; share: Float32Array }[] =>
    Array.from({ length: to }, (_, i) => {
      const a = (i * from) / to;
      const b = ((i + 1) * from) / to;
      const first = Math.floor(a);
      const last = Math.min(most, Math.ceil(b));
      return {
        first,
        share: Float32Array.from(
          { length: last - first },
          (_v, n) => (Math.min(b, first + n + 1) - Math.max(a, first + n)) / (b - a),
        ),
      };
    });
  const columns = weights(span.width, toWidth, width);
  const rows = weights(span.height, toHeight, height);
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
