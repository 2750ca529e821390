import { boxMean } from '../../raster/box';
import { smoothFill } from '../smoothFill';
import { greyOf, grown, smaller, type Ground } from './ground';

/** Width of the ring around the hole that is looked at, px. */
const RING = 28;
/** Half the width of the windows over which changes are looked at, px; leaves are looked at at half the size. */
const REACH = 12;
const LEAVES_REACH = 8;

/** Between the two of each a ground becomes rough and fine. */
const EVEN = [0.63, 0.69] as const;
const ONE_WAY = [0.85, 0.7] as const;
const STRONG = [6, 12] as const;
/** Leaves: edges lie farther apart, but go every way, and are softer than those of made things. */
const LEAVES_EVEN = 0.44;
const LEAVES_ONE_WAY = 0.335;
const LEAVES_STRONG = [6, 30] as const;

/** How a ground changes from px to px around a place. */
interface Changes {
  /** Squared mean over mean square: pi / 4 for a texture without order, little where a few edges hold all of it. */
  readonly even: number;
  /** Coherence of the structure tensor: how much they go one way. */
  readonly oneWay: number;
  /** Of 255. */
  readonly strong: number;
}

/**
 * How rough and fine a hole's surroundings are, without order, as fur, grass and stones, 0 to 1 a place: in the hole as
 * beside it.
 * Source of the coherence: Bigun and Granlund, "Optimal orientation detection of linear symmetry", ICCV 1987.
 */
export function roughBeside(ground: Ground): Float32Array {
  const { width, height, hole } = ground;
  const rough = new Float32Array(width * height);
  const open = grown(hole, width, height, RING);
  forEachOnRing(ground, REACH, RING, (i, { even, oneWay, strong }) => {
    open[i] = 0;
    rough[i] = between(even, EVEN) * between(oneWay, ONE_WAY) * between(strong, STRONG);
  });
  smoothFill(rough, open, { width, height, channels: 1, sweeps: 24 });
  return rough;
}

/** Whether a hole lies among leaves. */
export function amongLeaves(ground: Ground): boolean {
  const seen: Changes[] = [];
  forEachOnRing(smaller(ground, 2), LEAVES_REACH, RING / 2, (_i, changes) => seen.push(changes));
  if (seen.length === 0) return false;
  const median = (value: (c: Changes) => number): number =>
    seen.map(value).sort((p, q) => p - q)[Math.floor(seen.length / 2)];
  const strong = median((c) => c.strong);
  return (
    median((c) => c.even) > LEAVES_EVEN &&
    median((c) => c.oneWay) < LEAVES_ONE_WAY &&
    strong > LEAVES_STRONG[0] &&
    strong < LEAVES_STRONG[1]
  );
}

/** Tells the changes around each known place of the ring around a ground's hole. */
function forEachOnRing(ground: Ground, reach: number, ring: number, tell: (i: number, changes: Changes) => void): void {
  const { width, height, known, hole } = ground;
  const count = width * height;
  const wide = grown(hole, width, height, ring);
  const grey = greyOf(ground);
  const planes = Array.from({ length: 5 }, () => new Float32Array(count));
  const [seen, size, xx, yy, xy] = planes;
  for (let y = 0, i = 0; y < height - 1; y++, i++)
    for (let x = 0; x < width - 1; x++, i++) {
      if (!wide[i] || !known[i] || !known[i + 1] || !known[i + width]) continue;
      const dx = grey[i + 1] - grey[i];
      const dy = grey[i + width] - grey[i];
      seen[i] = 1;
      size[i] = Math.sqrt(dx * dx + dy * dy);
      xx[i] = dx * dx;
      yy[i] = dy * dy;
      xy[i] = dx * dy;
    }
  const [many, sizes, a, b, c] = planes.map((plane) => boxMean(plane, width, height, reach));
  for (let i = 0; i < count; i++) {
    if (!seen[i]) continue;
    const power = a[i] + b[i];
    if (power === 0) tell(i, { even: 0, oneWay: 1, strong: 0 });
    else
      tell(i, {
        even: (sizes[i] * sizes[i]) / many[i] / power,
        oneWay: Math.sqrt((a[i] - b[i]) ** 2 + 4 * c[i] * c[i]) / power,
        strong: Math.sqrt(power / many[i]),
      });
  }
}

const between = (value: number, [from, to]: readonly [number, number]): number =>
  Math.min(1, Math.max(0, (value - from) / (to - from)));
