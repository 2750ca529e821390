import { seeded } from '@/tests/support/chance';
import { fastGlobalSmoother } from './fastGlobalSmoother';

/** The same, plainly: each row and column a system of equations, solved by elimination of the whole matrix. */
function plainly(
  plane: Float64Array,
  guide: Uint8Array,
  { width, height, lambda, sigma }: { width: number; height: number; lambda: number; sigma: number },
): void {
  const bond = (i: number, j: number): number =>
    lambda * Math.exp(-Math.hypot(...[0, 1, 2].map((c) => guide[i * 4 + c] - guide[j * 4 + c])) / sigma);
  const line = (start: number, stride: number, many: number): void => {
    const rows = Array.from({ length: many }, (_, n) => {
      const row = new Float64Array(many + 1);
      const i = start + n * stride;
      row[n] = 1;
      for (const m of [n - 1, n + 1])
        if (m >= 0 && m < many) {
          const w = bond(i, start + m * stride);
          row[n] += w;
          row[m] -= w;
        }
      row[many] = plane[i];
      return row;
    });
    for (let n = 0; n < many; n++)
      for (let m = 0; m < many; m++) {
        if (m === n) continue;
        const f = rows[m][n] / rows[n][n];
        for (let k = 0; k <= many; k++) rows[m][k] -= f * rows[n][k];
      }
    for (let n = 0; n < many; n++) plane[start + n * stride] = rows[n][many] / rows[n][n];
  };
  for (let y = 0; y < height; y++) line(y * width, 1, width);
  for (let x = 0; x < width; x++) line(x, width, height);
}

test.each([
  [13, 10],
  [16, 7],
  [1, 5],
  [5, 1],
])('a plane of %i x %i px is smoothed as the equations say', (width, height) => {
  const random = seeded(width);
  const guide = Uint8Array.from({ length: width * height * 4 }, () => Math.floor(random() * 60));
  const plane = Float32Array.from({ length: width * height }, random);
  const truth = Float64Array.from(plane);
  const how = { width, height, lambda: 40, sigma: 12 };
  plainly(truth, guide, how);
  fastGlobalSmoother(plane, guide, how);
  plane.forEach((v, i) => {
    expect(v).toBeCloseTo(truth[i], 4);
  });
});
