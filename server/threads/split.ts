import { storeMap } from '../rasters/revisions';
import type { Choice } from '@/core/matte/choice';
import { ChoiceMaker } from '@/core/matte/choice';
import { splitMatte } from '@/core/matte/share';
import { widened } from '@/core/raster/bits';
import type { Mask } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { platePicture } from '@/core/shot/plates';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { bakePiece } from '../shots/pieces';
import { platePixels, sourcePicture } from '../shots/platePixels';
import { task } from './task';

type Part = Pick<Plate, 'matte' | 'piece'>;

/** Parts a plate along a choice; both keep its depth. @throws Problem `nothing-taken`, `all-taken`, `not-cut` */
export const split = task<
  { readonly document: ShotDocument; readonly plate: Plate; readonly choice: Choice },
  { readonly taken: Part; readonly left: Part }
>(async ({ document, plate, choice }, onProgress) => {
  const pixels = await platePixels(document, plate);
  const picture = await readRasterEightBits(await sourceRaster(document.source));
  const { taken, left } = splitMatte(pixels.matte, new ChoiceMaker(picture).make(choice, pixels.depth, onProgress));
  const holdsAny = (matte: Mask): boolean => matte.data.some((v) => v >= 128);
  if (!holdsAny(taken))
    throw new Problem(
      422,
      'nothing-taken',
      `The choice holds nothing of ${plate.name}, so nothing can be split off. Choose a part of the plate.`,
    );
  if (!holdsAny(left))
    throw new Problem(
      422,
      'all-taken',
      `The choice holds all of ${plate.name}, so nothing would be left of it. Choose a part of the plate.`,
    );
  const { piece } = plate;
  const source = piece ? await sourcePicture(document) : undefined;
  return inTransaction(async (em) => {
    const part = async (matte: Mask): Promise<Part> => ({
      matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
      piece: source && piece ? await bakePiece(em, platePicture(source, { ...pixels, matte }), piece.fileName) : null,
    });
    return { taken: await part(taken), left: await part(left) };
  });
});
