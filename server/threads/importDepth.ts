import type { FloatMeaning } from '@/core/depth/distance';
import type { Mended } from '@/core/depth/mendDepth';
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
  /** What maps often lack is mended (server/media/depthFile.ts). */
  readonly mend: boolean;
  /** What the numbers are of a file that holds floats. */
  readonly floats: FloatMeaning;
}

/** Reads a depth picture, fits it to the source and stores it. @throws Problem what is wrong with the file */
export const importDepth = task<
  { readonly source: ShotDocument['source']; readonly file: DepthFile },
  { readonly revision: string; readonly mended: Mended | null }
>(async ({ source, file: { path, fileName, whiteIsNear, mend, floats } }) => {
  let mended: Mended | null = null;
  const onMended = (found: Mended): void => {
    mended = found;
  };
  const map = await readDepthFile(path, fileName, { whiteIsNear, mend, floats, onMended });
  const fitted = fitDepth(map, source, fileName);
  return inTransaction(async (em) => ({ revision: (await storeMap(em, fitted)).id, mended }));
});
