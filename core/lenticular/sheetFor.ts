import type { Size } from '../kind';
import { planSheet, type SheetPlan, type SheetSpec } from './pitch';

/** What a sheet is made of, whatever its views' size. */
export type SheetLens = Omit<SheetSpec, 'viewWidth' | 'viewHeight'>;

/**
 * A sheet for views of this size, and the size at which they go into it: their own, or the sheet's where that is
 * smaller.
 * @throws CoreError what planSheet throws
 */
export function sheetFor(lens: SheetLens, view: Size): { readonly plan: SheetPlan; readonly viewSize: Size } {
  const { columns } = planSheet({ ...lens, viewWidth: view.width, viewHeight: view.height });
  const viewSize =
    view.width <= columns
      ? { width: view.width, height: view.height }
      : { width: columns, height: Math.max(1, Math.round((columns * view.height) / view.width)) };
  return { viewSize, plan: planSheet({ ...lens, viewWidth: viewSize.width, viewHeight: viewSize.height }) };
}
