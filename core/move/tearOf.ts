import type { Scene } from '../scene/sceneAt';
import type { Surface } from '../scene/sceneOf';
import { beginBudget, type Budget } from '../stereo/parallax';

/**
 * The step of a surface's own depth beyond which its mesh tears: the jump of parallax that tears its stereo views, or, where
 * the budget has no depth at all, that of a budget as shots begin with.
 */
export function tearOf({ budget, width }: Pick<Scene, 'budget' | 'width'>, { near, far, tearPx }: Surface): number {
  const parallax = Math.abs(budget.nearPx - budget.farPx) || spanOf(beginBudget(width));
  const px = parallax * Math.abs(near - far);
  return px > 0 ? Math.min(65535, Math.round((tearPx / px) * 65535)) : 65535;
}

const spanOf = ({ nearPx, farPx }: Budget): number => Math.abs(nearPx - farPx);
