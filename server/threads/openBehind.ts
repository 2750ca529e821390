import { storeMap } from '../rasters/revisions';
import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { shotRasters } from '../shots/platePixels';
import { task } from './task';

/** Stores the depth behind the plates as it goes on by itself, so that it can be painted. */
export const openBehind = task<{ readonly document: ShotDocument }, { readonly revision: string }>(
  async ({ document }) => {
    const { depth } = await shotRasters(document);
    return inTransaction(async (em) => ({ revision: (await storeMap(em, depth)).id }));
  },
);
