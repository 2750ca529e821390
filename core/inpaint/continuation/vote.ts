import type { Ground } from './ground';
import type { Misfits } from './misfits';
import type { Offset } from './offsets';

/** Votes of less weight than this change nothing; where less than the other is left in all, the best are missing. */
const LEAST = 1e-3;
const ENOUGH = 0.9;

/** What was said of places. */
export interface Told {
  /** Red, green and blue, interleaved. */
  readonly colours: Float32Array;
  /** 1 where anything was said. */
  readonly said: Uint8Array;
}

/**
 * What the offsets say of places: the mean of the shifted pictures, the better fitting ones weighing more, by
 * exp(-(E - Emin) / (2 kappa Emin)).
 * @param wanted 1 where it is asked
 * @param kappa how soft the vote is
 */
export function vote(
  ground: Ground,
  offsets: readonly Offset[],
  misfits: Misfits,
  { factor, wanted, kappa }: { readonly factor: number; readonly wanted: Uint8Array; readonly kappa: number },
): Told {
  const { width, height, colours, from } = ground;
  const out = new Float32Array(width * height * 3);
  const said = new Uint8Array(width * height);
  const weights = new Float64Array(offsets.length);
  const heavy = new Int32Array(offsets.length);
  for (let cy = 0; cy < misfits.height; cy++)
    for (let cx = 0; cx < misfits.width; cx++) {
      const [left, top] = [cx * factor, cy * factor];
      const [right, bottom] = [Math.min(width, left + factor), Math.min(height, top + factor)];
      if (!asks(left, top, right, bottom)) continue;
      const cell = cy * misfits.width + cx;
      const many = weigh(cell, () => true);
      for (let y = top; y < bottom; y++)
        for (let x = left; x < right; x++)
          if (wanted[y * width + x] && !mix(x, y, many)) {
            // Those that fit best reach nothing from here: the others among themselves.
            mix(
              x,
              y,
              weigh(cell, (n) => reaches(x, y, n)),
            );
            weigh(cell, () => true);
          }
    }
  return { colours: out, said };

  function asks(left: number, top: number, right: number, bottom: number): boolean {
    for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) if (wanted[y * width + x]) return true;
    return false;
  }

  function reaches(x: number, y: number, n: number): boolean {
    const u = x + offsets[n].dx;
    const v = y + offsets[n].dy;
    return u >= 0 && v >= 0 && u < width && v < height && from[v * width + u] === 1;
  }

  /** The weights of a cell's votes, those that matter first; how many do. @param may which votes count */
  function weigh(cell: number, may: (n: number) => boolean): number {
    let least = Infinity;
    misfits.planes.forEach((plane, n) => {
      if (plane[cell] < least && may(n)) least = plane[cell];
    });
    const best = Math.exp(least);
    let first = 0;
    for (let n = 0; n < offsets.length; n++) {
      weights[n] = Math.exp(-(Math.exp(misfits.planes[n][cell]) - best) / (2 * kappa * best));
      if (weights[n] >= LEAST && may(n)) heavy[first++] = n;
    }
    return first;
  }

  /** The mean of the first so many votes; false where too little of them can be asked. */
  function mix(x: number, y: number, many: number): boolean {
    let sum = 0;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let k = 0; k < many; k++) {
      const { dx, dy } = offsets[heavy[k]];
      const u = x + dx;
      const v = y + dy;
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const j = v * width + u;
      if (!from[j]) continue;
      const w = weights[heavy[k]];
      sum += w;
      r += w * colours[j * 3];
      g += w * colours[j * 3 + 1];
      b += w * colours[j * 3 + 2];
    }
    if (sum < ENOUGH) return false;
    const i = y * width + x;
    out[i * 3] = r / sum;
    out[i * 3 + 1] = g / sum;
    out[i * 3 + 2] = b / sum;
    said[i] = 1;
    return true;
  }
}
