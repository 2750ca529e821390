import { replaceDepth } from '../support/replaceDepth';
import { shotState, type ShotState } from '@/server/shots/history';
import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import sharp from 'sharp';
import type { Recipe } from '@/core/recipes';
import { Render } from '@/server/db/entities';
import { database } from '@/server/db/orm';
import { readMedia } from '@/server/media/store';
import { writePicture } from '@/server/media/writePicture';
import { claim } from '@/server/renders/claim';
import { sender } from '@/server/renders/queue';
import { renderOutputs, startRender } from '@/server/renders/renders';
import { runRender } from '@/server/renders/run';
import { bringIn } from '@/server/shots/bringIn';
import { extendBorder } from '@/server/shots/border';
import { actOnFill } from '@/server/shots/fills';
import { actOnPlates } from '@/server/shots/plates';
import { exportPlates, importPlates } from '@/server/shots/platesFiles';
import { changeDocument } from '@/server/shots/shots';
import { python } from '../support/python';
import { boxChoice, headOf, laidOut, pixel, scene, sourcePicture } from '../support/scene';
import type { Picture16 } from '@/core/raster/picture';

// A source of 16 bits keeps them on its whole way through the server: values that lie between two of 8 bits come out
// as they went in.

const width = 240;
const height = 160;
const GROUND = [30001, 40003, 50007];
const BOX = [60011, 9001, 3003];
const stage = scene('Sixteen bits', async () => {
  await (await sender()).stop({ graceful: false });
});
const inside = (x: number, y: number): boolean => x >= 90 && x < 150 && y >= 50 && y < 110;

/** A box before an even ground, cut as a plate. */
async function begin(): Promise<ShotState> {
  const data = Uint16Array.from({ length: width * height * 4 }, (_, i) => {
    const p = i >> 2;
    return (i & 3) === 3 ? 65535 : (inside(p % width, Math.floor(p / width)) ? BOX : GROUND)[i & 3];
  });
  const picture: Picture16<'straight'> = { bits: 16, alpha: 'straight', width, height, data };
  const path = join(stage.dir, 'deep.png');
  await writePicture(path, picture, 'png16', { alpha: false });
  const id = await bringIn(stage.project, path, 'deep.png');
  await replaceDepth({ id, expectedHead: await headOf(id) }, 'Depth', {
    width,
    height,
    data: Uint16Array.from({ length: width * height }, (_, i) =>
      inside(i % width, Math.floor(i / width)) ? 60000 : 6000,
    ),
  });
  const cut = await actOnPlates(
    { id, expectedHead: await headOf(id) },
    {
      action: 'cut',
      plate: null,
      name: 'Box',
      choice: boxChoice(90, 50, 150, 110),
      spare: true,
    },
  );
  return changeDocument({ id, expectedHead: cut.head }, 'Budget', { budget: { nearPx: -20, farPx: 0 } });
}
/**
 * What a reader that we did not write makes of a file: bits a value, and red, green, blue at places (OpenCV reads blue
 * first).
 */
const read = (path: string, ...places: readonly (readonly [number, number])[]): { bits: number; values: number[][] } =>
  JSON.parse(
    python(
      `
import cv2, json, sys
a = cv2.imread(sys.argv[1], cv2.IMREAD_UNCHANGED)
print(json.dumps({'bits': a.itemsize * 8, 'values': [[int(v) for v in a[y, x, 2::-1]] for x, y in json.loads(sys.argv[2])]}))`,
      [path, JSON.stringify(places)],
    ),
  ) as never;

async function rendered(shot: string, recipe: Recipe): Promise<string[]> {
  const id = await startRender(shot, recipe);
  await claim(id, 'me');
  await runRender(await (await database()).findOneOrFail(Render, { id }), () => Promise.resolve());
  return Promise.all(
    (await renderOutputs(id)).map(async ({ mediaId, size, name }) => {
      const path = join(stage.dir, `${id}-${name}`);
      await pipeline(readMedia(mediaId, 0, size), createWriteStream(path));
      return path;
    }),
  );
}

test('the source, its plates and what lies behind them keep their values', async () => {
  const s = await begin();
  const source = await sourcePicture(s);
  const laid = await laidOut(s);
  const [plate] = laid.plates;
  expect(s.document.source.bits).toBe(16);
  expect([pixel(source, 5, 5, 4), pixel(source, 120, 80, 4)]).toEqual([
    [...GROUND, 65535],
    [...BOX, 65535],
  ]);
  expect(pixel(plate.picture, 120, 80 - plate.top, 4)).toEqual([...BOX, 65535]);
  // An even ground goes on as itself, to the rounding of the membrane's floats.
  pixel(laid.picture, 120, 80).forEach((v, c) => {
    expect(Math.abs(v - GROUND[c])).toBeLessThanOrEqual(1);
  });
});

test('filled by hand and by the machine, what is put there has the ground’s own values', async () => {
  const s = await begin();
  const cloned = await actOnFill(
    { id: s.id, expectedHead: s.head },
    {
      action: 'edit',
      plate: null,
      edit: {
        kind: 'clone',
        size: 20,
        hardness: 1,
        strength: 1,
        points: [{ x: 120, y: 80 }],
        sources: [{ dx: -90, dy: 0 }],
        scale: 1,
        turn: 0,
        flip: false,
        jitter: 0,
        seed: 1,
        seamless: false,
        beyond: false,
      },
    },
  );
  expect(pixel((await laidOut(cloned)).picture, 120, 80)).toEqual(GROUND);
  for (const method of ['texture', 'smooth'] as const) {
    const filled = await actOnFill(
      { id: s.id, expectedHead: await headOf(s.id) },
      {
        action: 'fill',
        plate: null,
        method,
        seeds: [1],
        area: { kind: 'hidden' },
        sample: { kind: 'everywhere' },
      },
    );
    pixel((await laidOut(filled)).picture, 120, 80).forEach((v, c) => {
      expect(Math.abs(v - GROUND[c])).toBeLessThanOrEqual(2);
    });
  }
});

describe('rendered', () => {
  const pair = { kind: 'pair', packing: 'left-and-right', quality: 100 } as const;
  test('as 16-bit PNG and TIFF its views have the source’s values; as 8-bit PNG and JPEG those of 8 bits', async () => {
    const s = await begin();
    const eight = GROUND.map((v) => Math.round(v / 257));
    for (const format of ['png16', 'tiff'] as const) {
      const [left] = await rendered(s.id, { ...pair, format });
      const { bits, values } = read(left, [10, 10], [120, 80]);
      expect([bits, values]).toEqual([16, [GROUND, BOX]]);
    }
    const [png] = await rendered(s.id, { ...pair, format: 'png' });
    expect(read(png, [10, 10])).toEqual({ bits: 8, values: [eight] });
    const [jpeg] = await rendered(s.id, { ...pair, format: 'jpeg' });
    read(jpeg, [10, 10]).values[0].forEach((v, c) => {
      expect(Math.abs(v - eight[c])).toBeLessThanOrEqual(3);
    });
  });

  test('side by side, as anaglyph and as a sheet it is as bright as it was', async () => {
    const s = await begin();
    const eight = GROUND.map((v) => Math.round(v / 257));
    const [both] = await rendered(s.id, { ...pair, packing: 'side-by-side', format: 'png16' });
    expect(read(both, [10, 10], [width + 10, 10]).values).toEqual([GROUND, GROUND]);
    const [glasses] = await rendered(s.id, { ...pair, packing: 'red-cyan-grey', format: 'png' });
    const grey = Math.round(0.299 * eight[0] + 0.587 * eight[1] + 0.114 * eight[2]);
    read(glasses, [10, 10]).values[0].forEach((v) => {
      expect(Math.abs(v - grey)).toBeLessThanOrEqual(1);
    });
    const [sheet] = await rendered(s.id, {
      kind: 'sheet',
      widthMm: 20,
      lpi: 60,
      dpi: 300,
      views: 3,
      lensSwap: false,
      format: 'png',
    });
    read(sheet, [10, 10]).values[0].forEach((v, c) => {
      expect(Math.abs(v - eight[c])).toBeLessThanOrEqual(1);
    });
  });
});

test('plates go out with 16 bits and come back whole', async () => {
  const s = await begin();
  const before = await laidOut(s);
  const { body } = await exportPlates(s.id, 'zip');
  const path = join(stage.dir, 'plates.zip');
  await pipeline(Readable.fromWeb(body as never), createWriteStream(path));
  const bare = await actOnPlates(
    { id: s.id, expectedHead: s.head },
    { action: 'remove', plate: s.document.plates[0].id },
  );
  const back = await importPlates(
    { id: s.id, expectedHead: bare.head },
    { path: path, fileName: 'plates.zip', zip: true },
  );
  const after = await laidOut(back);
  expect(back.document.plates[0].piece).toBeNull();
  expect(
    Buffer.from(after.plates[0].picture.data.buffer).equals(Buffer.from(before.plates[0].picture.data.buffer)),
  ).toBe(true);
  const { body: layers } = await exportPlates(s.id, 'ora');
  const ora = join(stage.dir, 'plates.ora');
  await pipeline(Readable.fromWeb(layers as never), createWriteStream(ora));
  const merged = JSON.parse(
    python(
      `
import zipfile, sys, json, cv2, numpy as np
z = zipfile.ZipFile(sys.argv[1]); a = cv2.imdecode(np.frombuffer(z.read('mergedimage.png'), np.uint8), cv2.IMREAD_UNCHANGED)
print(json.dumps([float(v) / np.iinfo(a.dtype).max for v in a[80, 120, 2::-1]]))`,
      [ora],
    ),
  ) as number[];
  merged.forEach((v, c) => {
    expect(Math.abs(v - BOX[c] / 65535)).toBeLessThan(1 / 255);
  });
});

test('on more canvas the picture keeps its values, and the border has them too', async () => {
  const s = await begin();
  for (const method of ['mirror', 'stretch', 'texture'] as const) {
    const wide = await extendBorder(
      { id: s.id, expectedHead: await headOf(s.id) },
      {
        left: 12,
        right: 0,
        top: 0,
        bottom: 8,
        method,
        seed: 1,
      },
    );
    const picture = await sourcePicture(wide);
    expect(wide.document.source.bits).toBe(16);
    pixel(picture, 3, 40).forEach((v, c) => {
      expect(Math.abs(v - GROUND[c])).toBeLessThanOrEqual(method === 'texture' ? 2 : 0);
    });
  }
  const now = await shotState(s.id);
  const picture = await sourcePicture(now);
  expect(pixel(picture, 36 + 120, 80)).toEqual(BOX);
});

test('a 16-bit grey picture, and one with transparency, come in as what they are', async () => {
  const grey = join(stage.dir, 'grey.png');
  const clear = join(stage.dir, 'clear.png');
  await sharp(new Uint16Array(80 * 60).fill(33333) as unknown as Uint8Array, {
    raw: { width: 80, height: 60, channels: 1 },
  })
    .toColourspace('grey16')
    .png()
    .toFile(grey);
  await writePicture(
    clear,
    {
      bits: 16,
      alpha: 'straight',
      width: 80,
      height: 60,
      data: Uint16Array.from({ length: 80 * 60 * 4 }, (_, i) => [40000, 20000, 10000, 32768][i & 3]),
    },
    'png16',
    { alpha: true },
  );
  const fromGrey = await shotState(await bringIn(stage.project, grey, 'grey.png'));
  const two = await shotState(await bringIn(stage.project, clear, 'clear.png'));
  expect(pixel(await sourcePicture(fromGrey), 9, 9, 4)).toEqual([33333, 33333, 33333, 65535]);
  expect([two.document.source.hasAlpha, pixel(await sourcePicture(two), 9, 9, 4)]).toEqual([
    true,
    [40000, 20000, 10000, 32768],
  ]);
});
