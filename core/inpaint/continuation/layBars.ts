import type { Bar } from './bars';
import type { Ground } from './ground';

/** Two bars are one where they point at each other by so much, are so alike in contrast, and in half their width, px. */
const POINTS_AT = Math.sin((7 * Math.PI) / 180);
const ALIKE = 0.5;
const AS_WIDE = 2;
/** Farther apart than so many times their half width two bars are hardly one, px at most. */
const FAR_APART = 24;
const FAR_MOST = 90;
/** A bar that meets no other fades over so many times its half width, px at most. */
const FADES = 6;
const FADES_MOST = 30;
/** So far before the hole a bar is no ground of what lies beside it, and shows its colours, px. */
const BEFORE = 9;
const SHOWN = 6;
/** Beside a bar this much more belongs to its soft edge, px. */
const SOFT = 1.5;

/** A bar's way through a hole: to another one, or until it has faded. */
interface Way {
  readonly from: Bar;
  readonly to: Bar | undefined;
  readonly length: number;
}

/** Where bars lie just before a ground's hole, 1: there the ground beside them must not be taken from. */
export function barsBefore({ width, height, known }: Ground, bars: readonly Bar[]): Uint8Array {
  const out = new Uint8Array(known.length);
  for (const { x, y, ux, uy, half } of bars)
    for (let t = -1; t <= BEFORE; t += 0.5)
      for (let v = -half - SOFT; v <= half + SOFT; v += 0.5) {
        const px = Math.round(x - t * ux - v * uy);
        const py = Math.round(y - t * uy + v * ux);
        if (px >= 0 && py >= 0 && px < width && py < height && known[py * width + px]) out[py * width + px] = 1;
      }
  return out;
}

/** Lays bars through a ground's hole, over what fills it so far: to the one that goes on with them, or fading. */
export function layBars(ground: Ground, bars: readonly Bar[], colours: Float32Array): void {
  for (const way of waysOf(bars)) lay(ground, way, colours);
}

function waysOf(bars: readonly Bar[]): Way[] {
  const pairs: { readonly a: number; readonly b: number; readonly off: number; readonly length: number }[] = [];
  bars.forEach((p, a) => {
    for (let b = a + 1; b < bars.length; b++) {
      const q = bars[b];
      const length = Math.hypot(q.x - p.x, q.y - p.y);
      if (length < 2 || length > Math.min(FAR_MOST, FAR_APART * Math.max(p.half, q.half))) continue;
      if (Math.abs(p.half - q.half) > AS_WIDE) continue;
      if (Math.abs(p.contrast - q.contrast) > ALIKE * Math.max(Math.abs(p.contrast), Math.abs(q.contrast))) continue;
      const [dx, dy] = [(q.x - p.x) / length, (q.y - p.y) / length];
      if (p.ux * dx + p.uy * dy <= 0 || q.ux * dx + q.uy * dy >= 0) continue;
      const off = Math.max(Math.abs(p.ux * dy - p.uy * dx), Math.abs(q.ux * dy - q.uy * dx));
      if (off < POINTS_AT) pairs.push({ a, b, off, length });
    }
  });
  pairs.sort((p, q) => p.off - q.off);
  const taken = new Uint8Array(bars.length);
  const ways: Way[] = [];
  for (const { a, b, length } of pairs) {
    if (taken[a] || taken[b]) continue;
    taken[a] = taken[b] = 1;
    ways.push({ from: bars[a], to: bars[b], length });
  }
  bars.forEach((from, n) => {
    if (!taken[n]) ways.push({ from, to: undefined, length: Math.min(FADES_MOST, FADES * from.half) });
  });
  return ways;
}

function lay(ground: Ground, { from, to, length }: Way, colours: Float32Array): void {
  const { width, height, hole } = ground;
  const begin = profileOf(ground, from);
  const end = to && profileOf(ground, to);
  const [ux, uy] = to ? [(to.x - from.x) / length, (to.y - from.y) / length] : [from.ux, from.uy];
  const half = Math.max(from.half, to?.half ?? 0);
  const reach = half + SOFT;
  const ends = [from.x, from.x + length * ux];
  const rows = [from.y, from.y + length * uy];
  for (
    let y = Math.max(0, Math.floor(Math.min(...rows) - reach));
    y <= Math.min(height - 1, Math.max(...rows) + reach);
    y++
  )
    for (
      let x = Math.max(0, Math.floor(Math.min(...ends) - reach));
      x <= Math.min(width - 1, Math.max(...ends) + reach);
      x++
    ) {
      const i = y * width + x;
      if (!hole[i]) continue;
      const t = (x - from.x) * ux + (y - from.y) * uy;
      const v = (y - from.y) * ux - (x - from.x) * uy;
      if (t < -BEFORE || t > length + (to ? BEFORE : 0) || Math.abs(v) > half) continue;
      const along = Math.min(1, Math.max(0, t / length));
      // Its outermost px are mixed with what lies beside it.
      const cover = Math.min(1, half - Math.abs(v)) * (to ? 1 : 1 - along);
      const a = begin(v);
      // The other end looks back, so that its left is this one's right.
      const b = end?.(-v) ?? a;
      if (!a || !b) continue;
      for (let c = 0; c < 3; c++) {
        const k = i * 3 + c;
        colours[k] += cover * (a[c] + along * (b[c] - a[c]) - colours[k]);
      }
    }
}

/** The mean colours of a bar just before the hole, by how far aside of its middle, to its right hand. */
function profileOf(
  { width, height, known, colours }: Ground,
  { x, y, ux, uy, half }: Bar,
): (v: number) => readonly number[] | undefined {
  const means: (readonly number[] | undefined)[] = [];
  for (let v = -half; v <= half; v++) {
    const sums = [0, 0, 0];
    let many = 0;
    for (let t = 1; t <= SHOWN; t++) {
      const px = Math.round(x - t * ux - v * uy);
      const py = Math.round(y - t * uy + v * ux);
      const i = py * width + px;
      if (px < 0 || py < 0 || px >= width || py >= height || !known[i]) continue;
      for (let c = 0; c < 3; c++) sums[c] += colours[i * 3 + c];
      many++;
    }
    means.push(many > 0 ? sums.map((s) => s / many) : undefined);
  }
  return (v) => means[Math.min(means.length - 1, Math.max(0, Math.round(v + half)))];
}
