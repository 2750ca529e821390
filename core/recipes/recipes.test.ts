import type { Straight8 } from '../raster/picture';
import { newDocument } from '../shot/document';
import { upgradeDocument } from '../shot/document/upgrade';
import {
  BEGIN_RECIPES,
  makerOf,
  recipeLabel,
  recipeSchema,
  recipesSchema,
  type PictureOrder,
  type Recipe,
  type SeeingHow,
  type SheetOrder,
  type VideoOrder,
  type Workshop,
} from './index';

/** A workshop that notes what is asked of it; a view is one pixel, as red as its eye is far to the right. */
function noting() {
  const eyes: number[] = [];
  const pictures: { order: PictureOrder; made: Straight8 }[] = [];
  const sheets: SheetOrder[] = [];
  const moments: (SeeingHow & { frame: number; eye: number | null })[] = [];
  const videos: { order: VideoOrder; frames: Straight8[] }[] = [];
  const shop: Workshop = {
    handed: { width: 1600, height: 1000 },
    view(eye) {
      eyes.push(eye);
      return { width: 1, height: 1, bits: 8, alpha: 'straight', data: Uint8Array.of((eye + 0.5) * 200, 0, 0, 255) };
    },
    report: () => Promise.resolve(),
    async picture(order, make) {
      pictures.push({ order, made: (await make()) as Straight8 });
    },
    sheet(order) {
      sheets.push(order);
      return Promise.resolve();
    },
    move: { stem: 'move', fps: 25, first: 10, last: 12 },
    moved(frame, eye, how) {
      moments.push({ frame, eye, ...how });
      return {
        width: 1,
        height: 1,
        bits: 8,
        alpha: 'straight',
        data: Uint8Array.of(frame, eye === 0.5 ? 1 : 0, 0, 255),
      };
    },
    movedColours: () => Promise.resolve('ycbcr'),
    async video(order, frame) {
      const frames: Straight8[] = [];
      for (let n = 0; n < order.frames; n++) frames.push((await frame(n)) as Straight8);
      videos.push({ order, frames });
    },
  };
  return { shop, eyes, pictures, sheets, moments, videos };
}

const all: readonly Recipe[] = Object.values(BEGIN_RECIPES);

describe('recipes', () => {
  test.each(all.map((recipe) => [recipe.kind, recipe] as const))(
    '%s begins with what its schema lets through',
    (kind, recipe) => {
      expect(recipeSchema.parse(recipe)).toEqual(recipe);
      expect(makerOf(recipe).kind).toBe(kind);
      expect(recipeLabel(recipe)).not.toBe('');
    },
  );

  test('a video has the frames between in and out, in one eye or packed, with even sides', async () => {
    const { shop, moments, videos } = noting();
    const plain = {
      ...BEGIN_RECIPES.video,
      size: 'custom',
      custom: { width: 641, height: 361 },
      shutter: 180,
    } as const;
    await makerOf(plain).run(plain, shop);
    expect(moments.map(({ frame, eye }) => [frame, eye])).toEqual([
      [10, null],
      [11, null],
      [12, null],
    ]);
    expect(moments[0]).toMatchObject({ size: { width: 640, height: 360 }, shutter: 180 });
    expect(videos[0].order).toMatchObject({ stem: 'move-centre', fps: 25, frames: 3, width: 640, height: 360 });
    const two = { ...plain, packing: 'side-by-side' } as const;
    await makerOf(two).run(two, shop);
    expect(videos[1].order).toMatchObject({ frames: 3, width: 1280, height: 360 });
    // Left before right.
    expect([...videos[1].frames[2].data]).toEqual([12, 0, 0, 255, 12, 1, 0, 255]);
    expect(makerOf(two).size({ ...two, packing: 'over-under' }, shop.handed)).toEqual({ width: 640, height: 720 });
    await expect(makerOf(plain).run(plain, { ...shop, move: null })).rejects.toMatchObject({ code: 'no-move' });
  });

  test('a shot has one of each kind, and no other', () => {
    expect(recipesSchema.parse(BEGIN_RECIPES)).toEqual(BEGIN_RECIPES);
    const { sheet, ...others } = BEGIN_RECIPES;
    expect(recipesSchema.safeParse(others).success).toBe(false);
    expect(recipesSchema.safeParse({ ...others, sheet: others.views }).success).toBe(false);
    expect(recipesSchema.safeParse({ ...others, sheet, poster: sheet }).success).toBe(false);
  });

  test('a shot that was stored before a recipe came has it as it begins, and its own others', () => {
    const media = { mediaId: 'm', width: 1600, height: 1000, bits: 8 as const, hasAlpha: false };
    const document = newDocument({ ...media, name: 'a.png' } as never, 'revision');
    const views = { ...BEGIN_RECIPES.views, views: 24 };
    const before = { ...document, recipes: { pair: document.recipes.pair, views } };
    const { recipes } = upgradeDocument(before, () => '');
    expect(recipes).toEqual({ ...BEGIN_RECIPES, views });
  });

  test('left and right are two pictures of two eyes; side by side is plain, twice as wide', async () => {
    const { shop, eyes, pictures } = noting();
    const apart = BEGIN_RECIPES.pair;
    await makerOf(apart).run(apart, shop);
    expect(pictures.map(({ order, made }) => [order.stem, made.data[0]])).toEqual([
      ['left', 0],
      ['right', 200],
    ]);
    const beside = { ...apart, packing: 'side-by-side' as const };
    await makerOf(beside).run(beside, shop);
    expect(eyes).toEqual([-0.5, 0.5, -0.5, 0.5]);
    expect(pictures[2].order.stem).toBe('side-by-side');
    expect([...pictures[2].made.data]).toEqual([0, 0, 0, 255, 200, 0, 0, 255]);
    expect(makerOf(beside).size(beside, shop.handed)).toEqual({ width: 3200, height: 1000 });
    expect(makerOf(apart).size(apart, shop.handed)).toEqual(shop.handed);
  });

  test('views are numbered from the leftmost eye on, evenly spaced', async () => {
    const { shop, eyes, pictures } = noting();
    const five = { ...BEGIN_RECIPES.views, views: 5 };
    await makerOf(five).run(five, shop);
    expect(eyes).toEqual([-0.5, -0.25, 0, 0.25, 0.5]);
    expect(pictures.map(({ order }) => order.stem)).toEqual([
      'view_001',
      'view_002',
      'view_003',
      'view_004',
      'view_005',
    ]);
    expect(pictures.map(({ order }) => order.share)).toEqual([0, 1, 2, 3, 4].map((n) => [n / 5, (n + 1) / 5]));
  });

  test('a sheet is named by what it is printed for, and refused where its views cannot be told apart', async () => {
    const { shop, sheets } = noting();
    const recipe = BEGIN_RECIPES.sheet;
    await makerOf(recipe).run(recipe, shop);
    expect(sheets).toHaveLength(1);
    expect(sheets[0]).toMatchObject({
      stem: 'sheet-200mm-75.13lpi-720dpi',
      format: 'tiff',
      lens: { lpi: 75.13, views: 9 },
    });
    expect(sheets[0].eyes).toHaveLength(9);
    // 200 mm at 720 dpi: 200 / 25.4 * 720 columns.
    expect(makerOf(recipe).size(recipe, shop.handed)).toEqual({ width: 5669, height: 3543 });
    const many = { ...recipe, views: 60 };
    expect(() => makerOf(many).size(many, shop.handed)).toThrow('60 views cannot be told apart in 9.58 columns');
  });
});
