import type { Size } from '@/core/kind';
import { inTransaction } from '../db/orm';
import { storeMap } from '../rasters/revisions';
import { loadCarried } from '../shots/carriedRasters';
import { task } from './task';

/** Stores a carried depth map as a revision, so that a key can be made of it. */
export const storeCarried = task<{ readonly name: string; readonly size: Size }, { readonly revision: string }>(
  async ({ name, size }) => {
    const map = await loadCarried(name, size);
    return { revision: (await inTransaction((em) => storeMap(em, map))).id };
  },
);
