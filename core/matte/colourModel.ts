/** A mixture of Gaussians over RGB (0 to 255): how likely a colour belongs to what the model was learnt from. */
export class ColourModel {
  /** Each part: log of its weight over its volume; mean; inverse covariance (upper triangle). */
  private readonly parts: {
    readonly log: number;
    readonly mean: readonly number[];
    readonly inverse: readonly number[];
  }[] = [];

  /**
   * Learns up to `count` parts from colours (r, g, b one after another) of the given weights. Deterministic: the parts begin at
   * colours spread by largest distance.
   * Source: the colour models of Rother, Kolmogorov and Blake, "GrabCut", SIGGRAPH 2004.
   */
  constructor(colours: Float32Array, weights: Float32Array, count = 5) {
    const n = weights.length;
    if (n === 0) return;
    const assigned = cluster(colours, weights, Math.min(count, n));
    let total = 0;
    for (let i = 0; i < n; i++) total += weights[i];
    for (let k = 0; k < count; k++) {
      let w = 0;
      const mean = [0, 0, 0];
      const c = [0, 0, 0, 0, 0, 0];
      for (let i = 0; i < n; i++)
        if (assigned[i] === k) {
          w += weights[i];
          for (let j = 0; j < 3; j++) mean[j] += weights[i] * colours[i * 3 + j];
        }
      if (w === 0) continue;
      for (let j = 0; j < 3; j++) mean[j] /= w;
      for (let i = 0; i < n; i++) {
        if (assigned[i] !== k) continue;
        const r = colours[i * 3] - mean[0];
        const g = colours[i * 3 + 1] - mean[1];
        const b = colours[i * 3 + 2] - mean[2];
        c[0] += weights[i] * r * r;
        c[1] += weights[i] * r * g;
        c[2] += weights[i] * r * b;
        c[3] += weights[i] * g * g;
        c[4] += weights[i] * g * b;
        c[5] += weights[i] * b * b;
      }
      // Three steps of noise are added to each channel, or a stroke over one even colour would know nothing else.
      const [rr, rg, rb, gg, gb, bb] = c.map((v, j) => v / w + (j === 0 || j === 3 || j === 5 ? 9 : 0));
      const d = rr * (gg * bb - gb * gb) - rg * (rg * bb - gb * rb) + rb * (rg * gb - gg * rb);
      this.parts.push({
        log: Math.log(w / total) - 0.5 * Math.log(d),
        mean,
        inverse: [
          (gg * bb - gb * gb) / d,
          (rb * gb - rg * bb) / d,
          (rg * gb - rb * gg) / d,
          (rr * bb - rb * rb) / d,
          (rg * rb - rr * gb) / d,
          (rr * gg - rg * rg) / d,
        ],
      });
    }
  }

  /** Negative log likelihood of a colour, up to a constant; the best part decides. Infinity for a model learnt from nothing. */
  cost(r: number, g: number, b: number): number {
    let best = -Infinity;
    for (const { log, mean, inverse: m } of this.parts) {
      const x = r - mean[0];
      const y = g - mean[1];
      const z = b - mean[2];
      const v =
        log - 0.5 * (x * x * m[0] + y * y * m[3] + z * z * m[5] + 2 * (x * y * m[1] + x * z * m[2] + y * z * m[4]));
      if (v > best) best = v;
    }
    return -best;
  }
}

/** k-means with weights; the first centres are the heaviest colour and then always the one farthest from those taken. */
function cluster(colours: Float32Array, weights: Float32Array, count: number): Uint8Array {
  const n = weights.length;
  const centres: number[][] = [];
  const nearest = new Float32Array(n).fill(Infinity);
  const assigned = new Uint8Array(n);
  const distance = (i: number, c: readonly number[]): number =>
    (colours[i * 3] - c[0]) ** 2 + (colours[i * 3 + 1] - c[1]) ** 2 + (colours[i * 3 + 2] - c[2]) ** 2;
  let pick = weights.indexOf(Math.max(...weights.subarray(0, 10_000)));
  while (centres.length < count) {
    const c = [colours[pick * 3], colours[pick * 3 + 1], colours[pick * 3 + 2]];
    centres.push(c);
    let far = -1;
    for (let i = 0; i < n; i++) {
      nearest[i] = Math.min(nearest[i], distance(i, c));
      if (nearest[i] > far) {
        far = nearest[i];
        pick = i;
      }
    }
    if (far === 0) break;
  }
  for (let turn = 0; turn < 5; turn++) {
    const sums = centres.map(() => [0, 0, 0, 0]);
    for (let i = 0; i < n; i++) {
      let best = 0;
      let least = Infinity;
      for (let k = 0; k < centres.length; k++) {
        const d = distance(i, centres[k]);
        if (d < least) {
          least = d;
          best = k;
        }
      }
      assigned[i] = best;
      const s = sums[best];
      const w = weights[i];
      s[0] += w * colours[i * 3];
      s[1] += w * colours[i * 3 + 1];
      s[2] += w * colours[i * 3 + 2];
      s[3] += w;
    }
    sums.forEach((s, k) => {
      if (s[3] > 0) for (let j = 0; j < 3; j++) centres[k][j] = s[j] / s[3];
    });
  }
  return assigned;
}
