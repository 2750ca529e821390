import { CoreError } from '../error';
import type { SheetPlan } from './pitch';

/**
 * Looks at a print through its lenses, in place of a real sheet: each lens shows the one printed column that lies where the
 * line of sight meets the print.
 *
 * @param print RGB bytes of the interlaced sheet, plan.columns * plan.rows
 * @param sight where under its lens the eye looks, 0 to 1 from the lens's left edge; (1 - (v + 0.5) / N) is view v's design angle
 * @returns RGB bytes, one column a whole lens, plan.rows high
 * @throws CoreError `size-differs`
 */
export function simulateLens(
  print: Uint8Array,
  plan: SheetPlan,
  sight: number,
): { width: number; height: number; data: Uint8Array; columns: number[] } {
  if (print.length !== plan.columns * plan.rows * 3)
    throw new CoreError(
      'size-differs',
      `The print has ${print.length} bytes but a sheet of ${plan.columns} × ${plan.rows} px has ${plan.columns * plan.rows * 3}.`,
    );
  const columns: number[] = [];
  for (let lens = 0; ; lens++) {
    const column = Math.floor(((lens + sight - (plan.offset ?? 0)) / plan.lpi) * plan.dpi);
    if (column >= plan.columns) break;
    if (column >= 0) columns.push(column);
  }
  const data = new Uint8Array(columns.length * plan.rows * 3);
  for (let y = 0; y < plan.rows; y++) {
    columns.forEach((column, x) => {
      const from = (y * plan.columns + column) * 3;
      const to = (y * columns.length + x) * 3;
      data[to] = print[from];
      data[to + 1] = print[from + 1];
      data[to + 2] = print[from + 2];
    });
  }
  return { width: columns.length, height: plan.rows, data, columns };
}

/** Where under its lens an eye looks that sits at view `view`'s design angle. */
export function designSight(plan: SheetPlan, view: number): number {
  const inOrder = plan.lensSwap ? plan.views - 1 - view : view;
  return 1 - (inOrder + 0.5) / plan.views;
}
