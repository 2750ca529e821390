import type { ShotDocument } from '@/core/shot/document';
import { ChoiceMaker } from '@/core/matte/choice';
import { widened } from '@/core/raster/bits';
import { inTransaction } from '../db/orm';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { storeMap } from '../rasters/revisions';
import { carriedChoice, loadCarried, matteMap } from '../shots/carriedRasters';
import { storeChoice } from '../shots/choices';
import { task } from './task';

/**
 * Stores a carried plate as revisions, so that a key can be made of it: where outlines carried it, with those, drawn
 * over the frame itself.
 */
export const storePlate = task<
  { readonly name: string; readonly source: ShotDocument['source'] },
  { readonly matte: string; readonly depth: string; readonly choice: string | null }
>(async ({ name, source }) => {
  const depth = await loadCarried(name, source);
  const choice = await carriedChoice(name);
  const matte = choice
    ? new ChoiceMaker(await readRasterEightBits(await sourceRaster(source))).make(choice, depth)
    : await matteMap(name, source);
  return inTransaction(async (em) => ({
    matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
    depth: (await storeMap(em, depth)).id,
    choice: choice ? await storeChoice(em, choice) : null,
  }));
});
