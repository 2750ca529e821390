import { storeMap } from '../rasters/revisions';
import { moveDepth } from '@/core/depth/moveDepth';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { platePicture } from '@/core/shot/plates';
import { inTransaction } from '../db/orm';
import { bakePiece, begunPlate, storeCover } from '../shots/pieces';
import { platePixels, sourcePicture } from '../shots/platePixels';
import { task } from './task';

/** A plate of another shot, with its colours and its depth, in the middle of this one. @throws Problem `not-cut` */
export const bringPlate = task<
  { readonly from: ShotDocument; readonly plate: Plate; readonly source: ShotDocument['source'] },
  { readonly plate: Plate }
>(async ({ from, plate, source }) => {
  const pixels = await platePixels(from, plate);
  const alone = platePicture(await sourcePicture(from), pixels);
  return inTransaction(async (em) => {
    const baked = await bakePiece(em, alone, `${plate.name}.png`);
    const fits = Math.floor(100 * Math.min(source.width / baked.width, source.height / baked.height)) / 100;
    const placement = {
      ...baked.placement,
      x: source.width / 2,
      y: source.height / 2,
      scale: Math.max(0.01, Math.min(1, fits)),
    };
    const piece = { ...baked, placement };
    const depth = moveDepth(pixels.depth, baked.placement, placement, source);
    const { near, far } = plate.depth;
    return {
      plate: {
        ...begunPlate(plate.name),
        piece,
        matte: await storeCover(em, piece, source),
        depth: { revision: (await storeMap(em, depth)).id, near, far },
      },
    };
  });
});
