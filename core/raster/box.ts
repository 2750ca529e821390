/**
 * Mean over a square window of 2 r + 1 px to a side, clipped at the border; its cost does not depend on r.
 * @param plane one value a pixel
 */
export function boxMean(plane: Float32Array, width: number, height: number, r: number): Float32Array {
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  const shares = Float64Array.from(
    { length: width },
    (_, x) => 1 / (Math.min(width - 1, x + r) - Math.max(0, x - r) + 1),
  );
  for (let y = 0, row = 0; y < height; y++, row += width) {
    let sum = 0;
    for (let x = 0; x < Math.min(r, width); x++) sum += plane[row + x];
    for (let x = 0; x < width; x++) {
      if (x + r < width) sum += plane[row + x + r];
      if (x > r) sum -= plane[row + x - r - 1];
      across[row + x] = sum * shares[x];
    }
  }
  // Down the columns a row at a time, so that memory is walked in order.
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(r, height); y++) for (let x = 0; x < width; x++) sums[x] += across[y * width + x];
  for (let y = 0; y < height; y++) {
    if (y + r < height) for (let x = 0, i = (y + r) * width; x < width; x++, i++) sums[x] += across[i];
    if (y > r) for (let x = 0, i = (y - r - 1) * width; x < width; x++, i++) sums[x] -= across[i];
    const share = 1 / (Math.min(height - 1, y + r) - Math.max(0, y - r) + 1);
    for (let x = 0, i = y * width; x < width; x++, i++) out[i] = sums[x] * share;
  }
  return out;
}
