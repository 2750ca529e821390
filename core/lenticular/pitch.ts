import { CoreError } from '../error';

/**
 * Lenses per inch at which to interlace, so that every lens points at the viewer: similar triangles.
 * @param lensLpi the sheet's own pitch, lenses per inch
 * @param distanceMm viewing distance; Infinity gives the sheet's own pitch
 * @param thicknessMm optical thickness of the lens
 */
export function printPitch(lensLpi: number, distanceMm: number, thicknessMm: number): number {
  return Number.isFinite(distanceMm) ? (lensLpi * distanceMm) / (distanceMm + thicknessMm) : lensLpi;
}

/** What a lenticular sheet is made of. */
export interface SheetSpec {
  readonly widthMm: number;
  /** Interlacing pitch, lenses per inch; fractions are exact. */
  readonly lpi: number;
  /** Printer resolution, dots per inch. */
  readonly dpi: number;
  /** Size of each view, px. */
  readonly viewWidth: number;
  readonly viewHeight: number;
  /** Number of views, leftmost eye first. */
  readonly views: number;
  /** Turn the views round under each lens. Off: the leftmost view lies at the right, as a lens wants it. @default false */
  readonly lensSwap?: boolean;
  /** Where the first lens begins, in lenses. @default 0 */
  readonly offset?: number;
}

/** A sheet's numbers, worked out. */
export interface SheetPlan extends SheetSpec {
  readonly columns: number;
  readonly rows: number;
  readonly columnsPerLens: number;
  readonly lenses: number;
}

/**
 * @throws CoreError `bad-sheet` where a number is out of range or the views outnumber the printed columns under a lens
 */
export function planSheet(spec: SheetSpec): SheetPlan {
  const within = (name: string, value: number, [low, high]: readonly [number, number], unit: string): void => {
    if (!(value >= low && value <= high))
      throw new CoreError('bad-sheet', `${name} is ${value} ${unit}; it must lie between ${low} and ${high} ${unit}.`);
  };
  within('The sheet width', spec.widthMm, [5, 2000], 'mm');
  within('The lens pitch', spec.lpi, [5, 400], 'lpi');
  within('The printer resolution', spec.dpi, [50, 5760], 'dpi');
  within('The number of views', spec.views, [2, 200], 'views');
  const columnsPerLens = spec.dpi / spec.lpi;
  if (columnsPerLens < 2)
    throw new CoreError(
      'bad-sheet',
      `${spec.dpi} dpi gives only ${columnsPerLens.toFixed(2)} columns under a lens at ${spec.lpi} lpi. At least 2 are needed: use a finer printer resolution or a coarser lens.`,
    );
  const columns = Math.round((spec.widthMm / 25.4) * spec.dpi);
  const rows = Math.max(1, Math.round((columns * spec.viewHeight) / spec.viewWidth));
  within('The sheet', columns * rows, [1, 2_000_000_000], 'px');
  return { ...spec, columns, rows, columnsPerLens, lenses: (columns / spec.dpi) * spec.lpi };
}

/**
 * The view under a printed column: u = frac(x_inch lpi + offset), view = floor((1 - u) N), taken at the column's centre.
 * Source: docs/computations.md, Lenticular.
 */
export function viewAtColumn(plan: SheetPlan, column: number): number {
  const phase = ((column + 0.5) / plan.dpi) * plan.lpi + (plan.offset ?? 0);
  const u = phase - Math.floor(phase);
  const view = Math.min(plan.views - 1, Math.floor((1 - u) * plan.views));
  return plan.lensSwap ? plan.views - 1 - view : view;
}
