import type { ShotRasters } from '@/core/shot/rasters';
import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { premultiply, unpremultiply } from '@/core/raster/alpha';
import { makerOf, type Recipe, type Workshop } from '@/core/recipes';
import { sceneOf, type ScenePart } from '@/core/scene/sceneOf';
import { renderView } from '@/core/view/renderView';
import { parallaxOf, type SourceEye } from '@/core/stereo/parallax';
import { DEFAULT_TEAR_PX, viewBuffers } from '@/core/stereo/synthesizeView';
import { readPlates } from '@/server/media/readPlates';
import { fitDepth, readDepthFile } from '@/server/media/depthFile';
import { writePicture } from '@/server/media/writePicture';
import { readPicture } from '../pictures';
import { needed, number, oneOf, readWords, WrongWords } from '../words';
import type { Premultiplied } from '@/core/raster/picture';

/**
 * Views of a picture with its depth, or of a folder of plates: left.png and right.png, or view_001.png and so on,
 * leftmost eye first.
 */
export async function views(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    depth: { type: 'string' },
    invert: { type: 'boolean' },
    near: { type: 'string' },
    far: { type: 'string' },
    plates: { type: 'string' },
    'source-eye': { type: 'string' },
    views: { type: 'string' },
    holes: { type: 'string' },
    out: { type: 'string' },
    json: { type: 'boolean' },
  });
  if (given.plates === undefined) {
    needed('picture', given.picture);
    needed('depth', given.depth);
  }
  const out = needed('out', given.out);
  const budget = { nearPx: number('near', given.near), farPx: number('far', given.far) };
  const sourceEye = oneOf('source-eye', given['source-eye'], ['left', 'centre', 'right'] as const, 'centre');
  const holes = oneOf('holes', given.holes, ['keep', 'fill'] as const, 'fill');
  const count = number('views', given.views, 2);
  if (!Number.isInteger(count) || count < 2 || count > 200)
    throw new WrongWords(`--views takes a whole number from 2 to 200, not '${given.views}'.`);

  const began = performance.now();
  const {
    rasters,
    plates,
    bits,
    hasAlpha,
    eye: listed,
    tearPx,
  } = given.plates === undefined ? await fromPicture(given) : await fromPlates(given);
  const { picture, depth: map } = rasters;
  const document = {
    budget,
    sourceEye: given['source-eye'] === undefined ? listed : sourceEye,
    swapEyes: false,
    tearPx,
    depth: plates.back,
    source: { width: picture.width },
    plates: plates.others,
  };
  const read = performance.now();
  let rendering = 0;
  let writing = 0;
  const shares: number[] = [];
  await mkdir(out, { recursive: true });
  const buffers = viewBuffers(picture);
  const format = bits === 16 ? 'png16' : 'png';
  const shop: Workshop = {
    handed: picture,
    report: () => Promise.resolve(),
    view: (eye) => {
      const start = performance.now();
      const view = renderView(sceneOf(document), rasters, eye, { holes, out: buffers });
      // Half-covered plates over kept holes are premultiplied too.
      const seen = unpremultiply(view.picture, hasAlpha || (holes === 'keep' && rasters.plates.length > 0));
      shares.push(view.revealedCount / (picture.width * picture.height));
      rendering += performance.now() - start;
      return seen;
    },
    picture: async ({ stem }, make) => {
      const made = await make();
      const start = performance.now();
      await writePicture(join(out, `${stem}.png`), made, format, { alpha: hasAlpha || holes === 'keep' });
      writing += performance.now() - start;
    },
    sheet: (order) => Promise.reject(new Error(`${order.stem} is made of views that are files.`)),
  };
  const recipe: Recipe =
    count === 2
      ? { kind: 'pair', packing: 'left-and-right', format, quality: 100 }
      : { kind: 'views', views: count, format, quality: 100 };
  await makerOf(recipe).run(recipe, shop);
  if (given.json) {
    let nearest = 0;
    let farthest = 1;
    const measure = (data: Uint16Array, { near, far }: { near: number; far: number }): void => {
      let low = 65535;
      let high = 0;
      for (const d of data) {
        if (d < low) low = d;
        if (d > high) high = d;
      }
      nearest = Math.max(nearest, far + ((near - far) * high) / 65535);
      farthest = Math.min(farthest, far + ((near - far) * low) / 65535);
    };
    measure(map.data, plates.back);
    for (const p of rasters.plates) measure(p.depth.data, plates.others.find((o) => o.id === p.id)!.depth);
    console.log(
      JSON.stringify({
        width: picture.width,
        height: picture.height,
        bits,
        views: count,
        ms: {
          read: round(read - began, 1),
          render: round(rendering, 1),
          write: round(writing, 1),
          all: round(performance.now() - began, 1),
        },
        parallaxPx: {
          nearest: round(parallaxOf(nearest, budget), 3),
          farthest: round(parallaxOf(farthest, budget), 3),
        },
        revealedShare: { most: round(Math.max(...shares), 6), views: shares.map((s) => round(s, 6)) },
      }),
    );
  }
}

type Given = Readonly<Record<string, string | boolean | undefined>>;
interface Input {
  readonly rasters: ShotRasters<Premultiplied>;
  readonly plates: { readonly back: { near: number; far: number }; readonly others: ScenePart['plates'] };
  readonly bits: 8 | 16;
  readonly hasAlpha: boolean;
  readonly eye: SourceEye;
  readonly tearPx: number;
}

/** One picture with one depth map. */
async function fromPicture(given: Given): Promise<Input> {
  const picturePath = needed('picture', given.picture as string | undefined);
  const depthPath = needed('depth', given.depth as string | undefined);
  const { picture, header } = await readPicture(picturePath);
  const depth = fitDepth(
    await readDepthFile(depthPath, basename(depthPath), { whiteIsNear: !given.invert, smooth: true }),
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

const round = (v: number, decimals: number): number => Math.round(v * 10 ** decimals) / 10 ** decimals;
