import { goOnDepth } from '@/core/fill/goOnDepth';
import { storeMap } from '../rasters/revisions';
import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { shotRasters } from '../shots/platePixels';
import { task } from './task';

/** Stores the depth behind the plates as it goes on by itself, smoothly or by floors and walls, so that it can be painted. */
export const openBehind = task<
  { readonly document: ShotDocument; readonly by: 'smooth' | 'planes' },
  { readonly revision: string }
>(async ({ document, by }) => {
  // What was painted before has no part in how it goes on by itself.
  const { depth, hole } = await shotRasters({ ...document, depth: { ...document.depth, behind: null } });
  const map = by === 'planes' && hole ? goOnDepth(depth, hole) : depth;
  return inTransaction(async (em) => ({ revision: (await storeMap(em, map)).id }));
});
