/** A symmetric positive definite matrix in its factors, L L^T. */
export class Cholesky {
  private readonly factor: Float64Array;

  /** @param matrix n x n by rows; only what lies below the diagonal, and the diagonal, is read */
  constructor(
    matrix: Float64Array,
    private readonly n: number,
  ) {
    const l = matrix.slice();
    for (let i = 0; i < n; i++) {
      const row = i * n;
      for (let j = 0; j <= i; j++) {
        const other = j * n;
        let sum = l[row + j];
        for (let k = 0; k < j; k++) sum -= l[row + k] * l[other + k];
        // Rounding may leave nothing of a row that says what others said.
        l[row + j] = i === j ? Math.sqrt(Math.max(sum, 1e-12)) : sum / l[other + j];
      }
    }
    this.factor = l;
  }

  solve(right: Float64Array): Float64Array {
    const { factor, n } = this;
    const x = right.slice();
    for (let i = 0; i < n; i++) {
      let sum = x[i];
      for (let k = 0; k < i; k++) sum -= factor[i * n + k] * x[k];
      x[i] = sum / factor[i * n + i];
    }
    for (let i = n - 1; i >= 0; i--) {
      x[i] /= factor[i * n + i];
      for (let k = 0; k < i; k++) x[k] -= factor[i * n + k] * x[i];
    }
    return x;
  }

  /** The matrix's inverse, whole. */
  inverse(): Float64Array {
    const { factor, n } = this;
    // The factor's inverse first, then its transpose times itself.
    const low = new Float64Array(n * n);
    for (let j = 0; j < n; j++) {
      low[j * n + j] = 1 / factor[j * n + j];
      for (let i = j + 1; i < n; i++) {
        let sum = 0;
        for (let k = j; k < i; k++) sum -= factor[i * n + k] * low[k * n + j];
        low[i * n + j] = sum / factor[i * n + i];
      }
    }
    const out = new Float64Array(n * n);
    for (let k = 0; k < n; k++)
      for (let i = 0; i <= k; i++) {
        const a = low[k * n + i];
        if (a === 0) continue;
        for (let j = 0; j <= i; j++) out[i * n + j] += a * low[k * n + j];
      }
    for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) out[j * n + i] = out[i * n + j];
    return out;
  }
}
