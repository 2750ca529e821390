import { basename } from 'node:path';
import { premultiply } from '@/core/raster/alpha';
import type { Premultiplied } from '@/core/raster/picture';
import type { ScenePart } from '@/core/scene/sceneOf';
import type { ShotRasters } from '@/core/shot/rasters';
import type { SourceEye } from '@/core/stereo/parallax';
import { DEFAULT_TEAR_PX } from '@/core/stereo/synthesizeView';
import { fitDepth, readDepthFile } from '@/server/media/depthFile';
import { readPlates } from '@/server/media/readPlates';
import { readPicture } from './pictures';
import { needed, WrongWords } from './words';

type Given = Readonly<Record<string, string | boolean | undefined>>;
/** What views and moves are made of. */
export interface Input {
  readonly rasters: ShotRasters<Premultiplied>;
  readonly plates: { readonly back: { near: number; far: number }; readonly others: ScenePart['plates'] };
  readonly bits: 8 | 16;
  readonly hasAlpha: boolean;
  readonly eye: SourceEye;
  readonly tearPx: number;
}

/** Says which words are missing, before anything is read. */
export function needInput(given: Given): void {
  if (given.plates !== undefined) return;
  needed('picture', given.picture as string | undefined);
  needed('depth', given.depth as string | undefined);
}

/** A picture with its depth, or a folder of plates, as the words ask for. */
export const readInput = (given: Given): Promise<Input> =>
  given.plates === undefined ? fromPicture(given) : fromPlates(given);

/** One picture with one depth map. */
async function fromPicture(given: Given): Promise<Input> {
  const picturePath = needed('picture', given.picture as string | undefined);
  const depthPath = needed('depth', given.depth as string | undefined);
  const { picture, header } = await readPicture(picturePath);
  const depth = fitDepth(
    await readDepthFile(depthPath, basename(depthPath), { whiteIsNear: !given.invert, mend: true }),
    picture,
    basename(depthPath),
  );
  return {
    rasters: { picture: premultiply(picture, header.hasAlpha), depth, plates: [] },
    plates: { back: { near: 1, far: 0 }, others: [] },
    bits: header.bits,
    hasAlpha: header.hasAlpha,
    eye: 'centre',
    tearPx: DEFAULT_TEAR_PX,
  };
}

/** A folder of plates as 'cork-twin plates' writes it. */
async function fromPlates(given: Given): Promise<Input> {
  const odd = ['picture', 'depth', 'invert'].find((w) => given[w] !== undefined);
  if (odd) throw new WrongWords(`--${odd} cannot stand beside --plates: the folder holds pictures and depths.`);
  const { list, rasters, ids, bits, hasAlpha } = await readPlates(given.plates as string);
  const [back, ...others] = list.plates;
  return {
    rasters,
    bits,
    hasAlpha,
    eye: list.sourceEye,
    tearPx: list.tearPx,
    plates: {
      back: { near: back.near, far: back.far },
      others: others.map(({ near, far, hidden }, n) => ({ id: ids[n], matte: ids[n], hidden, depth: { near, far } })),
    },
  };
}
