/** A bead of a curve: depth in, depth out, 0 to 1. */
export interface RemapBead {
  readonly from: number;
  readonly to: number;
}

/**
 * Depth out for each of 65536 depths in. Between beads the curve is smooth and never turns back where the beads do not; beyond
 * the first and the last it is flat.
 * Source: Fritsch and Butland, "A method for constructing local monotone piecewise cubic interpolants", SIAM J. Sci. Stat.
 * Comput. 5(2), 1984 (weighted harmonic means of the slopes beside a bead).
 * @param beads two or more, in the order of `from`
 */
export function remapTable(beads: readonly RemapBead[], invert = false): Float32Array {
  const slopes = slopesOf(beads);
  const table = new Float32Array(65536);
  let n = 0;
  for (let v = 0; v < table.length; v++) {
    const x = v / 65535;
    while (n < beads.length - 2 && x > beads[n + 1].from) n++;
    const y = between(beads[n], beads[n + 1], [slopes[n], slopes[n + 1]], x);
    const held = Math.min(1, Math.max(0, y));
    table[v] = invert ? 1 - held : held;
  }
  return table;
}

function slopesOf(beads: readonly RemapBead[]): number[] {
  const wide = beads.slice(1).map((b, n) => b.from - beads[n].from);
  const steep = beads.slice(1).map((b, n) => (b.to - beads[n].to) / wide[n]);
  return beads.map((_, n) => {
    if (n === 0) return steep[0];
    if (n === beads.length - 1) return steep[n - 1];
    const [a, b] = [steep[n - 1], steep[n]];
    if (a * b <= 0) return 0;
    const [p, q] = [2 * wide[n] + wide[n - 1], wide[n] + 2 * wide[n - 1]];
    return (p + q) / (p / a + q / b);
  });
}

function between(a: RemapBead, b: RemapBead, [s, t]: readonly [number, number], x: number): number {
  if (x <= a.from) return a.to;
  if (x >= b.from) return b.to;
  const wide = b.from - a.from;
  const u = (x - a.from) / wide;
  // Cubic Hermite between the two.
  return (
    (2 * u ** 3 - 3 * u ** 2 + 1) * a.to +
    (u ** 3 - 2 * u ** 2 + u) * wide * s +
    (3 * u ** 2 - 2 * u ** 3) * b.to +
    (u ** 3 - u ** 2) * wide * t
  );
}
