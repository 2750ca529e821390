import { greyOf, grown, type Ground } from './ground';

/** Bars are looked for so far from the hole, px, from the first to the second. */
const NEAR = 3;
const FAR = 7;
/** Half the width of the window in which their way is told, and how far aside of their middle they may end, px. */
const REACH = 5;
const WIDEST = 9;
/** A bar stands out from both its sides by so much, of 255, and these differ from each other by less than this share of that. */
const STANDS_OUT = 18;
const SIDES = 0.6;
/** How much changes around it go one way (coherence of the structure tensor). */
const ONE_WAY = 0.7;
/** Bars that enter so near to each other, px, and so alike in their way, are one. */
const APART = 6;
const SAME_WAY = Math.cos((20 * Math.PI) / 180);

/** A bar that meets a hole: where it enters, which way it leads (a unit vector), and how far it reaches to each side, px. */
export interface Bar {
  readonly x: number;
  readonly y: number;
  readonly ux: number;
  readonly uy: number;
  readonly half: number;
  /** How much its middle is lighter than its sides, of 255; negative: darker. */
  readonly contrast: number;
}

/**
 * Straight bars that lead into a ground's hole: narrow, of one tone between two alike.
 * Source of the coherence: Bigun and Granlund, "Optimal orientation detection of linear symmetry", ICCV 1987.
 */
export function barsInto(ground: Ground): Bar[] {
  const { width, height, known, hole } = ground;
  const inner = grown(hole, width, height, NEAR);
  const outer = grown(hole, width, height, FAR);
  const grey = greyOf(ground);
  const found: Bar[] = [];
  for (let y = REACH; y < height - REACH; y++)
    for (let x = REACH; x < width - REACH; x++) {
      const i = y * width + x;
      if (!outer[i] || inner[i] || !known[i]) continue;
      const way = wayAt(ground, grey, x, y);
      if (!way) continue;
      const bar = barAt(ground, grey, { x, y, ...way });
      if (bar) found.push(bar);
    }
  found.sort((p, q) => Math.abs(q.contrast) - Math.abs(p.contrast));
  const kept: Bar[] = [];
  for (const bar of found)
    if (
      !kept.some(
        (k) =>
          (k.x - bar.x) ** 2 + (k.y - bar.y) ** 2 < APART * APART && Math.abs(k.ux * bar.ux + k.uy * bar.uy) > SAME_WAY,
      )
    )
      kept.push(bar);
  return kept;
}

/** The way along what lies around a place: across its steepest change; undefined where it goes no one way. */
function wayAt(
  { width, known }: Ground,
  grey: Float32Array,
  x: number,
  y: number,
): { readonly ux: number; readonly uy: number } | undefined {
  let [xx, yy, xy, many] = [0, 0, 0, 0];
  for (let v = y - REACH; v < y + REACH; v++)
    for (let i = v * width + x - REACH; i < v * width + x + REACH; i++) {
      if (!known[i] || !known[i + 1] || !known[i + width]) continue;
      const dx = grey[i + 1] - grey[i];
      const dy = grey[i + width] - grey[i];
      xx += dx * dx;
      yy += dy * dy;
      xy += dx * dy;
      many++;
    }
  const power = xx + yy;
  if (many < REACH * REACH || power < many * 9) return undefined;
  if (Math.sqrt((xx - yy) ** 2 + 4 * xy * xy) < ONE_WAY * power) return undefined;
  const across = Math.atan2(2 * xy, xx - yy) / 2;
  return { ux: -Math.sin(across), uy: Math.cos(across) };
}

/** The bar whose middle lies at a place, from where it enters the hole on. */
function barAt(
  { width, height, known, hole }: Ground,
  grey: Float32Array,
  { x, y, ux, uy }: { readonly x: number; readonly y: number; readonly ux: number; readonly uy: number },
): Bar | undefined {
  const place = (px: number, py: number): number => {
    const [nx, ny] = [Math.round(px), Math.round(py)];
    return nx < 0 || ny < 0 || nx >= width || ny >= height ? -1 : ny * width + nx;
  };
  /** Mean grey so far aside, a few px back along the bar; undefined where too little is known. */
  const aside = (v: number, sign: number): number | undefined => {
    let [sum, many] = [0, 0];
    for (let t = -1; t <= 3; t++) {
      const i = place(x - sign * t * ux - v * uy, y - sign * t * uy + v * ux);
      if (i < 0 || !known[i]) continue;
      sum += grey[i];
      many++;
    }
    return many < 3 ? undefined : sum / many;
  };
  // Into the hole, whichever way that is.
  let sign = 0;
  let steps = 0;
  for (steps = 1; steps <= 2 * FAR && sign === 0; steps++)
    for (const way of [1, -1]) {
      const i = place(x + way * steps * ux, y + way * steps * uy);
      if (i >= 0 && hole[i]) sign = way;
    }
  if (sign === 0) return undefined;
  const middle = aside(0, sign);
  if (middle === undefined) return undefined;
  // To each side as far as its tone goes.
  const ends = [1, -1].map((side) => {
    for (let v = 1; v <= WIDEST; v++) {
      const tone = aside(side * v, sign);
      if (tone === undefined) return undefined;
      if (Math.abs(tone - middle) > STANDS_OUT) {
        const beyond = aside(side * (v + 2), sign) ?? tone;
        return { at: v, tone: beyond };
      }
    }
    return undefined;
  });
  const [left, right] = ends;
  if (!left || !right || Math.abs(left.at - right.at) > 1) return undefined;
  const ground = (left.tone + right.tone) / 2;
  const contrast = middle - ground;
  if (Math.abs(contrast) < STANDS_OUT || (left.tone - middle) * (right.tone - middle) <= 0) return undefined;
  if (Math.abs(left.tone - right.tone) > SIDES * Math.abs(contrast)) return undefined;
  return {
    x: x + sign * (steps - 1) * ux,
    y: y + sign * (steps - 1) * uy,
    ux: sign * ux,
    uy: sign * uy,
    half: Math.max(left.at, right.at),
    contrast,
  };
}
