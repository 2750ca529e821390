import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { unpremultiply } from '@/core/raster/alpha';
import { makerOf, type Recipe, type Workshop } from '@/core/recipes';
import { sceneOf } from '@/core/scene/sceneOf';
import { renderView } from '@/core/view/renderView';
import { parallaxOf } from '@/core/stereo/parallax';
import { viewBuffers } from '@/core/stereo/synthesizeView';
import { writePicture } from '@/server/media/writePicture';
import { needInput, readInput } from '../input';
import { needed, number, oneOf, readWords, WrongWords } from '../words';

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
  needInput(given);
  const out = needed('out', given.out);
  const budget = { nearPx: number('near', given.near), farPx: number('far', given.far) };
  const sourceEye = oneOf('source-eye', given['source-eye'], ['left', 'centre', 'right'] as const, 'centre');
  const holes = oneOf('holes', given.holes, ['keep', 'fill'] as const, 'fill');
  const count = number('views', given.views, 2);
  if (!Number.isInteger(count) || count < 2 || count > 200)
    throw new WrongWords(`--views takes a whole number from 2 to 200, not '${given.views}'.`);

  const began = performance.now();
  const { rasters, plates, bits, hasAlpha, eye: listed, tearPx } = await readInput(given);
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
    move: null,
    moved: () => {
      throw new Error('Views stand still.');
    },
    movedColours: () => Promise.resolve('rgb'),
    video: ({ stem }) => Promise.reject(new Error(`${stem} needs a move.`)),
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

const round = (v: number, decimals: number): number => Math.round(v * 10 ** decimals) / 10 ** decimals;
