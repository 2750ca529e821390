import { move, transferableSymbol, valueSymbol } from 'piscina';
import { HandFill } from '@/core/fill/handFill';
import { plateGround, type PlateGround } from '@/core/fill/plateGround';
import { emptyStraight, type Premultiplied, type Straight } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { filledPicture } from '../shots/carriedRasters';
import { bareDocument, paintedOf, shotRasters } from '../shots/platePixels';
import { task } from './task';

/** A plate opened for filling by hand: with nothing on it, and what was put on it so far. */
export interface GroundMade {
  readonly bare: PlateGround<Premultiplied>;
  readonly fill: Straight;
  readonly overpaint: Straight;
  /** The plate as it stands. */
  readonly picture: Premultiplied;
}

/**
 * Lays a shot out and opens one plate of it (null: the back plate); its pixels come back without being copied. @throws
 * Problem `nothing-there`
 */
export const openGround = task<{ readonly document: ShotDocument; readonly plate: string | null }, GroundMade>(
  async ({ document, plate }) => {
    const rasters = await shotRasters(bareDocument(document));
    const bare = plateGround(rasters, plate);
    if (!bare) throw new Problem(422, 'nothing-there', 'This plate covers nothing, so there is nothing to fill.');
    const { width, height, bits } = document.source;
    const stored = async (revision: string | null): Promise<Straight> =>
      revision === null ? emptyStraight({ width, height }, bits) : filledPicture(revision, document.source);
    const painted = paintedOf(document, plate);
    const hand = new HandFill(bare, { fill: await stored(painted.fill), overpaint: await stored(painted.overpaint) });
    const made: GroundMade = { bare, fill: hand.fill, overpaint: hand.overpaint, picture: hand.picture };
    const buffers = [bare.picture, bare.hidden, bare.own, made.fill, made.overpaint, made.picture].map(
      ({ data }) => data.buffer as ArrayBuffer,
    );
    return move({ [transferableSymbol]: [...new Set(buffers)], [valueSymbol]: made }) as unknown as GroundMade;
  },
);
