/** What the equations leave open is kept small, with the weight of so much of them all. */
const SMALL = 1e-6;

/** The normal equations of a weighted least-squares fit of a few terms. */
export class NormalEquations {
  /** A row of factors and what they shall make. */
  private readonly wide: number;
  private readonly sums: Float64Array;
  private weights = 0;

  constructor(private readonly terms: number) {
    this.wide = terms + 1;
    this.sums = new Float64Array(terms * this.wide);
  }

  /** One equation: its factors, and behind them what they shall make; it stands in `rows` from `from` on. */
  add(rows: Float64Array, from: number, weight: number): void {
    const { terms, wide, sums } = this;
    this.weights += weight;
    for (let i = 0; i < terms; i++) {
      const factor = weight * rows[from + i];
      if (factor === 0) continue;
      for (let j = i; j < wide; j++) sums[i * wide + j] += factor * rows[from + j];
    }
  }

  /**
   * By elimination with the largest first. Of terms that stand for each other, as a camera's way and a zoom do before
   * a flat scene,
   * the least ones are taken; what no equation tells of is 0.
   */
  solution(): Float64Array<ArrayBuffer> {
    const { terms, wide } = this;
    const rows = this.sums.slice();
    for (let i = 0; i < terms; i++) for (let j = 0; j < i; j++) rows[i * wide + j] = rows[j * wide + i];
    for (let i = 0; i < terms; i++) rows[i * wide + i] += SMALL * this.weights + 1e-9;
    for (let i = 0; i < terms; i++) {
      let top = i;
      for (let k = i + 1; k < terms; k++) if (Math.abs(rows[k * wide + i]) > Math.abs(rows[top * wide + i])) top = k;
      for (let j = 0; j < wide; j++)
        [rows[i * wide + j], rows[top * wide + j]] = [rows[top * wide + j], rows[i * wide + j]];
      for (let k = i + 1; k < terms; k++) {
        const share = rows[k * wide + i] / rows[i * wide + i];
        for (let j = i; j < wide; j++) rows[k * wide + j] -= share * rows[i * wide + j];
      }
    }
    const out = new Float64Array(terms);
    for (let i = terms - 1; i >= 0; i--) {
      let sum = rows[i * wide + terms];
      for (let j = i + 1; j < terms; j++) sum -= rows[i * wide + j] * out[j];
      out[i] = sum / rows[i * wide + i];
    }
    return out;
  }
}
