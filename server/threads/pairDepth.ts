import { depthFromPair } from '@/core/depth/pair/depthFromPair';
import { CoreError } from '@/core/error';
import { toEightBits } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { readWholePicture } from '../media/readWholePicture';
import { storeMap } from '../rasters/revisions';
import { task } from './task';

/** The source, and a second photograph of the same scene that was taken a step to the right. */
interface Pair {
  readonly source: ShotDocument['source'];
  readonly path: string;
  readonly fileName: string;
}

/** Depth of the source by a second photograph, stored. @throws Problem what is wrong with the file; `size-differs` */
export const pairDepth = task<
  Pair,
  { readonly revision: string; readonly nearPx: number; readonly farPx: number; readonly filled: number }
>(async ({ source, path, fileName }, onProgress) => {
  const right = toEightBits(await readWholePicture(path, fileName));
  const left = await readRasterEightBits(await sourceRaster(source));
  if (right.width !== left.width || right.height !== left.height)
    throw new Problem(
      422,
      'size-differs',
      `${fileName} is ${right.width} × ${right.height} px but the picture is ${left.width} × ${left.height} px. The second photograph must have the same size, and show the same in the same rows.`,
    );
  try {
    const { depth, nearPx, farPx, filled } = depthFromPair(left, right, onProgress);
    const { id } = await inTransaction((em) => storeMap(em, depth));
    return { revision: id, nearPx, farPx, filled };
  } catch (error) {
    if (error instanceof CoreError) throw new Problem(422, error.code, error.message);
    throw error;
  }
});
