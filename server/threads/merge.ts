import { storeMap } from '../rasters/revisions';
import type { EntityManager } from '@mikro-orm/postgresql';
import { joinMattes } from '@/core/matte/share';
import { widened } from '@/core/raster/bits';
import { overStraight } from '@/core/raster/overStraight';
import type { Straight } from '@/core/raster/picture';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { mergeDepth } from '@/core/shot/mergeDepth';
import { platePicture } from '@/core/shot/plates';
import { inTransaction } from '../db/orm';
import { storePicture } from '../rasters/pictures';
import { bakePiece, coverOf } from '../shots/pieces';
import { platePixels, sourcePicture } from '../shots/platePixels';
import { task } from './task';

/**
 * Two plates as one, which keeps the first one's name. Both from the source: it stays so; otherwise their colours
 * become a piece of their
 * own. @throws Problem `not-cut`
 */
export const merge = task<
  { readonly document: ShotDocument; readonly plates: readonly [Plate, Plate] },
  Pick<Plate, 'matte' | 'depth' | 'piece' | 'fill' | 'overpaint'>
>(async ({ document, plates }) => {
  const [first, second] = plates;
  const a = await platePixels(document, first);
  const b = await platePixels(document, second);
  const depth = mergeDepth({ ...a, ...first.depth }, { ...b, ...second.depth });
  const ownColours = plates.some((p) => p.piece !== null);
  let matte = joinMattes(a.matte, b.matte);
  let together: Straight | undefined;
  if (ownColours) {
    const source = await sourcePicture(document);
    const firstIsFarther = first.depth.near + first.depth.far <= second.depth.near + second.depth.far;
    const [under, upper] = firstIsFarther ? [a, b] : [b, a];
    together = overStraight(platePicture(source, under), platePicture(source, upper));
    matte = coverOf(together);
  }
  return inTransaction(async (em) => {
    // A piece shows what was painted on it already; otherwise both plates' fills and strokes go on.
    const painted = async (what: 'fill' | 'overpaint'): Promise<string | null> =>
      ownColours
        ? null
        : mergedPainted(em, { id: first[what], picture: a[what] }, { id: second[what], picture: b[what] });
    return {
      piece: together ? await bakePiece(em, together, `${first.name}.png`) : null,
      fill: await painted('fill'),
      overpaint: await painted('overpaint'),
      matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
      depth: { revision: (await storeMap(em, depth.depth)).id, near: depth.near, far: depth.far },
    };
  });
});

interface PaintedOne {
  readonly id: string | null;
  readonly picture?: Straight | undefined;
}

/** What was put on two plates as one picture, the first one's above; nothing is stored anew where only one has any. */
async function mergedPainted(em: EntityManager, first: PaintedOne, second: PaintedOne): Promise<string | null> {
  if (!first.picture || !second.picture) return first.id ?? second.id;
  return (await storePicture(em, overStraight(second.picture, first.picture))).id;
}
