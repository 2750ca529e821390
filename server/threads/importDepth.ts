import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { fitDepth, readDepthFile } from '../media/depthFile';
import { storeMap } from '../rasters/revisions';
import { task } from './task';

/** A depth picture that has arrived, and how it is meant. */
export interface DepthFile {
  readonly path: string;
  readonly fileName: string;
  readonly whiteIsNear: boolean;
  /** Terraces of 8 bits are smoothed. */
  readonly smooth: boolean;
}

/** Reads a depth picture, fits it to the source and stores it. @throws Problem what is wrong with the file */
export const importDepth = task<
  { readonly source: ShotDocument['source']; readonly file: DepthFile },
  { readonly revision: string }
>(async ({ source, file: { path, fileName, whiteIsNear, smooth } }) => {
  const map = await readDepthFile(path, fileName, { whiteIsNear, smooth });
  const fitted = fitDepth(map, source, fileName);
  return inTransaction(async (em) => ({ revision: (await storeMap(em, fitted)).id }));
});
