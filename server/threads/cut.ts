import { storeMap } from '../rasters/revisions';
import { CoreError } from '@/core/error';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { spareOthers } from '@/core/matte/share';
import { widened } from '@/core/raster/bits';
import type { Mask } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { cutDepth } from '@/core/shot/cutPlate';
import { inTransaction } from '../db/orm';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { depthMap, matteMap } from '../shots/carriedRasters';
import { task } from './task';

/** What a plate is cut from: a picture, the choice, the depth over its span, and the mattes that keep what they hold. */
export interface CutOrder {
  readonly source: ShotDocument['source'];
  readonly choice: Choice;
  readonly depth: { readonly revision: string; readonly near: number; readonly far: number };
  readonly spared: readonly string[];
}

/** The stored matte and depth of a cut plate, and the span of that. */
export interface CutMade {
  readonly matte: string;
  readonly depth: { readonly revision: string; readonly near: number; readonly far: number };
}

/** Makes a plate's matte and depth at full size. */
export const cut = task<CutOrder, CutMade>(async ({ source, choice, depth, spared }, onProgress) => {
  const picture = await readRasterEightBits(await sourceRaster(source));
  const map = await depthMap(depth.revision, source);
  const others: Mask[] = [];
  for (const revision of spared) others.push(await matteMap(revision, source));
  const matte = spareOthers(new ChoiceMaker(picture).make(choice, map, onProgress), others);
  if (!matte.data.some((v) => v > 0))
    throw new CoreError(
      'nothing-chosen',
      'Nothing is left of the choice: other plates hold all of it. Take from those first, or let the plates overlap.',
    );
  const made = cutDepth(map, depth, matte);
  return inTransaction(async (tx) => ({
    matte: (await storeMap(tx, { ...matte, data: widened(matte.data) })).id,
    depth: { revision: (await storeMap(tx, made.depth)).id, near: made.near, far: made.far },
  }));
});
