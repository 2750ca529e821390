import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import type { Mask } from '@/core/raster/picture';
import { isCarriedPlate } from '@/core/shot/isCarriedPlate';
import { plateAtMoment, plateKeyAt } from '@/core/shot/plateAtMoment';
import type { ShotDocument } from '@/core/shot/document';
import { pushedOut } from '@/core/shot/hidden';
import { holePush } from '@/core/shot/plates';
import { carriedIsThere, matteMap, resizedMatte } from './carriedRasters';

/** At a smaller size holes are a little wider, so that they hide no less than at the full one, px. */
const WIDER = 1.5;

/**
 * What the plates of a film hide in one of its frames, pushed out so that no rim of them stays, 255. @param size of the
 * frame as it is looked at @throws CoreError `not-carried`
 */
export async function hiddenAt(
  { source, plates, holePx }: Pick<ShotDocument, 'source' | 'plates' | 'holePx'>,
  n: number,
  { width, height }: Size,
): Promise<Mask> {
  const push = ((holePx ?? holePush(source.width)) * width) / source.width + WIDER;
  const hole: Mask = { width, height, data: new Uint8Array(width * height) };
  for (const plate of plates) {
    if (!isCarriedPlate(plate)) continue;
    const { matte } = plateAtMoment(plate, source.mediaId, n, carriedIsThere);
    if (matte === null) {
      if (plateKeyAt(plate, n)) continue;
      throw new CoreError(
        'not-carried',
        `${plate.name} is not carried to frame ${n + 1} yet. Carry plates and depth first.`,
      );
    }
    const part = pushedOut(await resizedMatte(await matteMap(matte, source), { width, height }), push);
    if (!part) continue;
    for (let y = 0, i = 0; y < part.height; y++)
      for (let x = 0; x < part.width; x++, i++)
        if (part.data[i]) hole.data[(part.top + y) * width + part.left + x] = 255;
  }
  return hole;
}
