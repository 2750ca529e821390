import { sceneOf } from '@/core/scene/sceneOf';
import type { PlatesExport } from '@/server/threads/handOut';
import { shotState, type ShotState } from '@/server/shots/history';
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { strToU8, unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import { distanceTo } from '@/core/raster/distance';
import { holePush } from '@/core/shot/plates';
import { renderView } from '@/core/view/renderView';
import { cacheDir } from '@/server/config';
import { bringIn } from '@/server/shots/bringIn';
import { storedMatte } from '@/server/shots/carriedRasters';
import { actOnFill } from '@/server/shots/fills';
import { actOnPlates } from '@/server/shots/plates';
import { exportPlates, importPlates } from '@/server/shots/platesFiles';
import { changeDocument } from '@/server/shots/shots';
import { boxChoice, headOf, laidOut, asBefore, pixel, scene, sourcePicture } from '../support/scene';

const width = 260;
const height = 180;
const stage = scene('Files');
const { dir } = stage;
const choice: Choice = {
  ingredients: [
    {
      kind: 'curve',
      way: 'add',
      nodes: [
        { x: 60, y: 90, inX: 60, inY: 130, outX: 60, outY: 50 },
        { x: 160, y: 90, inX: 160, inY: 50, outX: 160, outY: 130 },
      ],
    },
  ],
  edge: { ...PLAIN_EDGE, featherPx: 2 },
};

async function begin(): Promise<ShotState> {
  const id = await stage.shot('wave', [width, height], (x, y) => [
    Math.round(128 + 100 * Math.sin((y * width + x) / 7)),
    ((y * width + x) * 3) % 251,
    y,
  ]);
  const cut = await actOnPlates(
    { id, expectedHead: await headOf(id) },
    {
      action: 'cut',
      plate: null,
      name: 'Vase & leaf',
      choice,
      spare: true,
    },
  );
  return changeDocument({ id, expectedHead: cut.head }, 'Shape', {
    plates: [{ id: cut.document.plates[0].id, near: 0.9, far: 0.7, hidden: false, group: 'Table' }],
  });
}

async function handOut(id: string, form: PlatesExport): Promise<string> {
  const { body, name } = await exportPlates(id, form);
  const path = join(dir, name.replace('.zip', `-${form}.zip`));
  writeFileSync(path, Buffer.from(await new Response(body).arrayBuffer()));
  return path;
}

const view = async (s: ShotState): Promise<Uint8Array> => {
  const { picture } = renderView(sceneOf({ ...s.document, budget: { nearPx: -12, farPx: 6 } }), await laidOut(s), 0.5);
  return picture.data as Uint8Array;
};

describe.each(['zip', 'trimmed'] as const)('a %s of plates', (form) => {
  test('is brought back whole: names, depths, group, choice, and the views to the pixel', async () => {
    const cut = await begin();
    const opened = await actOnPlates({ id: cut.id, expectedHead: cut.head }, { action: 'open-behind' });
    const filled = await actOnFill(
      { id: cut.id, expectedHead: opened.head },
      {
        action: 'edit',
        plate: null,
        edit: {
          kind: 'line',
          points: [
            { x: 55, y: 90 },
            { x: 165, y: 90 },
          ],
          width: 20,
          beyond: false,
        },
      },
    );
    // Painted over the plate's own pixels, and over the back plate's.
    const dot = (x: number, y: number) => ({
      kind: 'clone' as const,
      size: 14,
      hardness: 0.5,
      strength: 1,
      points: [{ x, y }],
      sources: [{ dx: 20, dy: 10 }],
      scale: 1,
      turn: 0,
      flip: false,
      jitter: 0,
      seed: 1,
      seamless: false,
      beyond: true,
    });
    const painted = await actOnFill(
      { id: cut.id, expectedHead: filled.head },
      { action: 'edit', plate: null, edit: dot(20, 20) },
    );
    const shot = await actOnFill(
      { id: cut.id, expectedHead: painted.head },
      {
        action: 'edit',
        plate: cut.document.plates[0].id,
        edit: dot(110, 90),
      },
    );
    expect([shot.document.overpaint, shot.document.plates[0].overpaint].every((r) => r !== null)).toBe(true);
    const path = await handOut(shot.id, form);
    const before = await view(shot);
    const [was] = shot.document.plates;
    const list = JSON.parse(new TextDecoder().decode(unzipSync(readFileSync(path))['plates.json'])) as {
      plates: { left: number; top: number; picture: string }[];
    };
    if (form === 'trimmed') {
      expect(list.plates[1].left).toBeGreaterThan(40);
      const { info } = await sharp(Buffer.from(unzipSync(readFileSync(path))[list.plates[1].picture])).toBuffer({
        resolveWithObject: true,
      });
      expect(info.width).toBeLessThan(140);
    }
    const bare = await actOnPlates(
      { id: shot.id, expectedHead: shot.head },
      { action: 'remove', plate: shot.document.plates[0].id },
    );
    const back = await importPlates(
      { id: shot.id, expectedHead: bare.head },
      { path: path, fileName: 'plates.zip', zip: true },
    );
    expect(back.undo).toBe('Bring back 1 plate');
    expect(back.document.plates[0]).toMatchObject({
      name: was.name,
      group: 'Table',
      choice: was.choice,
      piece: null,
      depth: { near: 0.9, far: 0.7 },
      hidden: false,
      locked: false,
    });
    const after = await view(back);
    expect(
      [back.document.fill, back.document.overpaint, back.document.plates[0].overpaint].every((r) => r !== null),
    ).toBe(true);
    expect(back.document.depth.behind).not.toBeNull();
    let worst = 0;
    for (let i = 0; i < before.length; i++) worst = Math.max(worst, Math.abs(before[i] - after[i]));
    expect(worst).toBe(0);
  });
});

test('a plate whose picture was changed outside comes back with those colours', async () => {
  const shot = await begin();
  const files = unzipSync(readFileSync(await handOut(shot.id, 'zip')));
  const name = '01-vase-leaf-picture.png';
  files[name] = new Uint8Array(await sharp(Buffer.from(files[name])).negate({ alpha: false }).png().toBuffer());
  const path = join(dir, 'changed.zip');
  writeFileSync(path, zipSync(files));
  const back = await importPlates(
    { id: shot.id, expectedHead: shot.head },
    { path: path, fileName: 'changed.zip', zip: true },
  );
  expect(back.document.plates[0].piece).not.toBeNull();
  const {
    plates: [{ picture, top }],
  } = await laidOut(back);
  const source = await sourcePicture(shot);
  expect(pixel(picture, 110, 90 - top)).toEqual(pixel(source, 110, 90).map((v) => 255 - v));
});

test('a zip leaves locked plates alone: it is refused and nothing changes', async () => {
  const shot = await begin();
  const path = await handOut(shot.id, 'zip');
  const locked = await changeDocument({ id: shot.id, expectedHead: shot.head }, 'Lock', {
    plates: [{ id: shot.document.plates[0].id, locked: true }],
  });
  await expect(
    importPlates({ id: shot.id, expectedHead: locked.head }, { path: path, fileName: 'plates.zip', zip: true }),
  ).rejects.toMatchObject({
    code: 'plate-locked',
    message: expect.stringContaining('Vase & leaf'),
  });
  expect((await shotState(shot.id)).document).toEqual(locked.document);
});

test('the export’s folder is gone when its file was sent', async () => {
  const { id } = await begin();
  await handOut(id, 'zip');
  await new Promise((r) => setTimeout(r, 200));
  expect(await readdir(cacheDir('outgoing'))).toEqual([]);
});

describe('OpenRaster', () => {
  test('a reader that we did not write sees the picture, and Python’s zip and XML the layers in their places', async () => {
    const shot = await begin();
    const path = await handOut(shot.id, 'ora');
    // Qt with Debian's kimageformat-plugins reads the merged picture; it must be the source's own view.
    const read = `
import sys; from PyQt5.QtGui import QImage, QImageReader
i = QImageReader(sys.argv[1], b'ora').read().convertToFormat(QImage.Format_RGB888)
p = i.constBits(); p.setsize(i.sizeInBytes()); b = bytes(p); n = i.bytesPerLine()
sys.stdout.buffer.write(b''.join(b[y * n:y * n + 3 * i.width()] for y in range(i.height())))`;
    const seen = execFileSync('/usr/bin/python3', ['-c', read, path], {
      maxBuffer: 1e8,
      env: { ...process.env, QT_QPA_PLATFORM: 'offscreen' },
    });
    const source = await sourcePicture(shot);
    expect(seen).toHaveLength(width * height * 3);
    // Half-covered pixels lie over the fill instead of what was there; where the plate is whole, or none is near, it
    // is the source.
    const matte = await storedMatte(shot.document.plates[0].matte!);
    const near = distanceTo({ ...matte, data: matte.data.map((v) => (v > 0 ? 255 : 0)) }, true);
    let compared = 0;
    let worst = 0;
    for (let i = 0; i < width * height; i++) {
      if (matte.data[i] < 255 && near[i] <= holePush(width)) continue;
      compared++;
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(seen[i * 3 + c] - source.data[i * 4 + c]));
    }
    expect(worst).toBeLessThanOrEqual(1);
    expect(compared).toBeGreaterThan(0.9 * width * height);
    const script = `
import sys, json, zipfile, io, xml.etree.ElementTree as E
z = zipfile.ZipFile(sys.argv[1]); first = z.infolist()[0]
root = E.fromstring(z.read('stack.xml'))
print(json.dumps({'first': first.filename, 'stored': first.compress_type == 0, 'mime': z.read('mimetype').decode(),
  'bad': z.testzip(), 'w': root.get('w'), 'h': root.get('h'),
  'layers': [dict(l.attrib) for l in root.iter('layer')], 'names': z.namelist()}))`;
    const report = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' })) as {
      layers: Record<string, string>[];
      names: string[];
    };
    expect(report).toMatchObject({
      first: 'mimetype',
      stored: true,
      mime: 'image/openraster',
      bad: null,
      w: String(width),
      h: String(height),
    });
    expect(report.layers.map((l) => [l.name, l.visibility, l['composite-op']])).toEqual([
      ['Vase & leaf', 'visible', 'svg:src-over'],
      ['Back plate', 'visible', 'svg:src-over'],
    ]);
    expect(report.names).toEqual(
      expect.arrayContaining(['mergedimage.png', 'Thumbnails/thumbnail.png', report.layers[0].src]),
    );
    expect(Number(report.layers[0].x)).toBeGreaterThan(50);
  });

  test('comes back as plates in their places, the ground left out, nearest first in depth', async () => {
    const shot = await begin();
    const path = await handOut(shot.id, 'ora');
    const back = await importPlates(
      { id: shot.id, expectedHead: shot.head },
      { path: path, fileName: 'wave.ora', zip: true },
    );
    const brought = back.document.plates[1];
    expect(back.document.plates).toHaveLength(2);
    expect(brought).toMatchObject({ name: 'Vase & leaf', choice: null });
    const laid = await laidOut({ document: { ...back.document, plates: [brought] } });
    const was = await laidOut(shot);
    const at = (r: typeof laid, x: number, y: number): number[] =>
      pixel(r.plates[0].picture, x, y - r.plates[0].top, 4);
    for (const [x, y] of [
      [110, 90],
      [70, 90],
      [150, 80],
    ])
      expect(at(laid, x, y)).toEqual(at(was, x, y));
  });

  test('of a picture with transparency its lowest layer has the picture’s own colours', async () => {
    const path = join(dir, 'clear.png');
    await sharp({ create: { width: 120, height: 80, channels: 4, background: { r: 200, g: 100, b: 40, alpha: 0.5 } } })
      .png()
      .toFile(path);
    const id = await bringIn(stage.project, path, 'clear.png');
    const cut = await actOnPlates(
      { id, expectedHead: await headOf(id) },
      {
        action: 'cut',
        plate: null,
        name: 'Box',
        choice: boxChoice(40, 20, 80, 60),
        spare: true,
      },
    );
    const { data } = await sharp(Buffer.from(unzipSync(readFileSync(await handOut(cut.id, 'ora')))['data/00.png']))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = [...data.subarray((10 * 120 + 10) * 4, (10 * 120 + 10) * 4 + 4)];
    // Premultiplied and back, a value at half coverage is known to 2 of 255.
    [200, 100, 40, 128].forEach((v, c) => {
      expect(Math.abs(at[c] - v)).toBeLessThanOrEqual(2);
    });
  });

  const ora = async (stack: string): Promise<string> => {
    const png = new Uint8Array(
      await sharp({ create: { width: 20, height: 10, channels: 4, background: { r: 9, g: 200, b: 9, alpha: 1 } } })
        .png()
        .toBuffer(),
    );
    const path = join(dir, 'made.ora');
    writeFileSync(
      path,
      zipSync({
        mimetype: [strToU8('image/openraster'), { level: 0 }],
        'stack.xml': strToU8(stack),
        'data/a.png': png,
        'data/b.png': png,
      }),
    );
    return path;
  };

  test('layers in nested stacks move and hide with their stack', async () => {
    const shot = await begin();
    const path = await ora(
      [
        '<image w="260" h="180"><stack>',
        '<stack x="30" y="20" visibility="hidden"><layer name="A &amp; B" src="data/a.png" x="5" y="5"/></stack>',
        '<layer src="data/b.png" x="100" y="100"/></stack></image>',
      ].join(''),
    );
    const { document } = await importPlates(
      { id: shot.id, expectedHead: shot.head },
      { path: path, fileName: 'made.ora', zip: true },
    );
    const [, a, b] = document.plates;
    expect(a).toMatchObject({ name: 'A & B', hidden: true, piece: { placement: { x: 45, y: 30 } } });
    expect(b).toMatchObject({ name: 'Layer 2', hidden: false, piece: { placement: { x: 110, y: 105 } } });
    expect(a.depth.near).toBeGreaterThan(b.depth.near);
  });

  test.each([
    ['no size', '<image><stack><layer src="data/a.png"/></stack></image>', 'does not say how large'],
    ['no layer', '<image w="9" h="9"><stack/></image>', 'holds no layer'],
    ['a way out', '<image w="9" h="9"><stack><layer src="../../etc/x.png"/></stack></image>', 'names no PNG inside'],
    ['damage', '<image w="9" h="9"><stack><layer', 'stack.xml is damaged'],
  ])('with %s it is refused and nothing changes', async (_name, stack, says) => {
    const shot = await begin();
    await expect(
      importPlates(
        { id: shot.id, expectedHead: shot.head },
        { path: await ora(stack), fileName: 'made.ora', zip: true },
      ),
    ).rejects.toMatchObject({
      code: 'bad-openraster',
      message: expect.stringContaining(says),
    });
    expect((await shotState(shot.id)).head).toBe(shot.head);
  });
});

describe('a zip that lies', () => {
  const refused = async (files: Parameters<typeof zipSync>[0] | Uint8Array, what: object): Promise<void> => {
    const shot = await begin();
    const path = join(dir, 'bad.zip');
    writeFileSync(path, files instanceof Uint8Array ? files : zipSync(files));
    await expect(
      importPlates({ id: shot.id, expectedHead: shot.head }, { path: path, fileName: 'bad.zip', zip: true }),
    ).rejects.toMatchObject(what);
    expect((await shotState(shot.id)).head).toBe(shot.head);
    expect(await readdir(cacheDir('incoming'))).toEqual([]);
  };
  test('names that lead out of the folder', async () => {
    await refused({ '../evil.json': strToU8('{}'), 'plates.json': strToU8('{}') }, { code: 'bad-zip' });
  });
  test('nothing of ours in it', async () => {
    await refused({ 'readme.json': strToU8('{}') }, { code: 'no-plates' });
  });
  test('cut off', async () => {
    await refused(zipSync({ 'plates.json': strToU8('x'.repeat(5000)) }).slice(0, 60), { code: 'bad-zip' });
  });
  test('a list that is no JSON, or says nonsense', async () => {
    await refused({ 'plates.json': strToU8('{"version": 1,') }, { code: 'bad-plates' });
    await refused({ 'plates.json': strToU8('{"version": 7}') }, { code: 'bad-plates' });
  });
  test('plates of another picture', async () => {
    const shot = await begin();
    const files = unzipSync(readFileSync(await handOut(shot.id, 'zip')));
    const other = await bringIn(stage.project, await stage.file('large.png', 300, 180, '#446688'), 'large.png');
    writeFileSync(join(dir, 'other.zip'), zipSync(files));
    await expect(
      importPlates(
        { id: other, expectedHead: (await shotState(other)).head },
        { path: join(dir, 'other.zip'), fileName: 'other.zip', zip: true },
      ),
    ).rejects.toMatchObject({
      code: 'other-size',
      message: expect.stringContaining('260 × 180 px, but this one is 300 × 180 px'),
    });
  });
});

test('documents of before get pieces, groups and the newer values of an edge', async () => {
  const shot = await begin();
  await asBefore(shot.id, (document) => ({
    ...document,
    plates: document.plates.map((p) => ({
      ...p,
      piece: undefined,
      group: undefined,
      choice: {
        ...p.choice!,
        edge: { ...p.choice!.edge, growPx: undefined, unsure: undefined, growTolerance: undefined },
      },
    })),
  }));
  expect((await shotState(shot.id)).document.plates[0]).toEqual({ ...shot.document.plates[0], group: null });
});
