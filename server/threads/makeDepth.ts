import { makeDepth as made, type DepthMake } from '@/core/depth/makers';
import { keepPainted } from '@/core/depth/keepPainted';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { narrowed } from '@/core/raster/bits';
import type { DepthMap, Mask, Straight8 } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { database, inTransaction } from '../db/orm';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { loadRevision, readMap, storeMap } from '../rasters/revisions';
import { task } from './task';

/** What a map is made of: the source, the map as it stands, and the one that marks began on. */
interface Making {
  readonly source: ShotDocument['source'];
  readonly make: DepthMake;
  readonly from: string;
  readonly base: string;
  /** What was made before `from` was painted on; undefined where nobody did. */
  readonly painted: string | undefined;
  /** The plate's; null: it is the back plate. */
  readonly matte: string | null;
}

/** Pictures of so many px are kept, one a thread: the next mark finds what was seen in it. */
const KEPT_PIXELS = 16e6;
let kept: { readonly mediaId: string; readonly picture: Straight8 } | undefined;

async function pictureOf(source: ShotDocument['source']): Promise<Straight8> {
  if (kept?.mediaId === source.mediaId) return kept.picture;
  const picture = await readRasterEightBits(await sourceRaster(source));
  kept = picture.width * picture.height <= KEPT_PIXELS ? { mediaId: source.mediaId, picture } : undefined;
  return picture;
}

const maskOf = ({ width, height, data }: DepthMap): Mask => ({ width, height, data: narrowed(data) });

/** A stored map, and as it was made, without what was painted before. */
interface MadeMap {
  readonly revision: string;
  readonly made: string;
}

/** Makes a whole depth map at full size and stores it. @throws CoreError what it cannot be made of */
export const makeDepth = task<Making, MadeMap>(async ({ source, make, from, base, painted, matte }) => {
  const em = await database();
  const map = async (id: string): Promise<DepthMap> => readMap(em, await loadRevision(em, id));
  const picture = await pictureOf(source);
  const depth = await map(from);
  const ground = {
    ...{ picture, depth, base: base === from ? depth : await map(base), scale: 1 },
    ...(matte === null ? {} : { matte: maskOf(await map(matte)) }),
  };
  const whole = toDepthMap(picture, made(ground, make));
  const before = painted === undefined ? undefined : await map(painted);
  return inTransaction(async (tx) => {
    const { id } = await storeMap(tx, whole);
    return { made: id, revision: before ? (await storeMap(tx, keepPainted(whole, depth, before))).id : id };
  });
});
