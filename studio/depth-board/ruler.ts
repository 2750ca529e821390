import { fromUnit, inUnit, type ParallaxUnit, type Viewing } from '@/core/stereo/units';
import { depthOf, parallaxOf, type Budget } from '@/core/stereo/parallax';

/** One mark of the parallax scale. */
export interface Tick {
  readonly depth: number;
  readonly value: number;
  readonly labelled: boolean;
  readonly decimals: number;
}

/** How a parallax scale is shown. */
export interface ScaleShown {
  readonly unit: ParallaxUnit;
  /** The picture's width, px. */
  readonly widthPx: number;
  readonly viewing: Viewing;
  /** The ruler's length in css px; figures stand at least 34 px apart. */
  readonly length: number;
}

/**
 * The marks of the parallax scale in a unit: figures at round steps, a fifth of a step between them.
 */
export function scaleTicks(budget: Budget, { unit, widthPx, viewing, length }: ScaleShown): Tick[] {
  const a = inUnit(budget.nearPx, unit, widthPx, viewing);
  const b = inUnit(budget.farPx, unit, widthPx, viewing);
  const low = Math.min(a, b);
  const high = Math.max(a, b);
  if (!(high - low > 1e-6)) return [];
  const rough = ((high - low) * 34) / length;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 5, 10].find((m) => m * power >= rough) ?? 10) * power;
  const decimals = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  const ticks: Tick[] = [];
  for (let n = Math.ceil((low * 5) / step); n * step <= high * 5 + 1e-9; n++) {
    const value = (n * step) / 5;
    ticks.push({
      depth: depthOf(fromUnit(value, unit, widthPx, viewing), budget),
      value,
      labelled: n % 5 === 0,
      decimals,
    });
  }
  return ticks.filter((t) => t.depth >= -1e-6 && t.depth <= 1 + 1e-6);
}

/** The stretch of the ruler, in depth, whose parallax lies between two limits; undefined where none does. */
export function comfortStretch(budget: Budget, comfort: Budget): { from: number; to: number } | undefined {
  const inside = (d: number): boolean => {
    const p = parallaxOf(d, budget);
    return p >= comfort.nearPx && p <= comfort.farPx;
  };
  if (budget.nearPx === budget.farPx) return inside(0) ? { from: 0, to: 1 } : undefined;
  const ends = [depthOf(comfort.nearPx, budget), depthOf(comfort.farPx, budget)].sort((x, y) => x - y);
  const from = Math.max(0, ends[0]);
  const to = Math.min(1, ends[1]);
  return from < to ? { from, to } : undefined;
}
