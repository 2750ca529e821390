import { sceneOf } from '@/core/scene/sceneOf';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { fillHole, type FillMethod } from '@/core/inpaint/fillHole';
import { goOnDepth } from '@/core/fill/goOnDepth';
import { plateGround } from '@/core/fill/plateGround';
import { revealMap } from '@/core/fill/revealMap';
import { seamlessClone } from '@/core/inpaint/seamlessClone';
import { cutDepth } from '@/core/shot/cutPlate';
import { layOutPlates } from '@/core/shot/layOut';
import { renderView } from '@/core/view/renderView';
import { pictureOf, type DepthMap, type Mask, type Premultiplied8, type Straight8 } from '@/core/raster/picture';

// Run by fill.test.ts in a process of its own, where the core is as quick as in the product (Jest's sandbox slows loops tenfold):
// lifts the ray-traced tree and bench, fills what the eyes uncover, renders both eyes, and clones a piece. Arguments:
// project, folder.

const [root, dir] = process.argv.slice(2);
const data = join(root, 'tests/data/orangery');
const demo = join(root, 'demo/orangery');
const rgba = async (f: string): Promise<Premultiplied8> => {
  const { data: d, info } = await sharp(f).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return {
    bits: 8 as const,
    alpha: 'premultiplied' as const,
    width: info.width,
    height: info.height,
    data: new Uint8Array(d),
  };
};
const grey = async (f: string): Promise<Mask> => {
  const { data: d, info } = await sharp(f)
    .toColourspace('b-w')
    .extractChannel(0)
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(d) };
};
const deep = async (f: string): Promise<DepthMap> => {
  const { data: d, info } = await sharp(f)
    .toColourspace('grey16')
    .extractChannel(0)
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    data: new Uint16Array(d.buffer, d.byteOffset, info.width * info.height),
  };
};
const write = (name: string, { width, height, data: d }: Premultiplied8) =>
  sharp(Buffer.from(d), { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 1 })
    .toFile(join(dir, name));
const writeMask = (name: string, { width, height, data: d }: Mask) =>
  sharp(Buffer.from(d), { raw: { width, height, channels: 1 } })
    .png({ compressionLevel: 1 })
    .toFile(join(dir, name));

const writeDepth = (name: string, { width, height, data: d }: DepthMap) =>
  sharp(d, { raw: { width, height, channels: 1 } })
    .toColourspace('grey16')
    .png({ compressionLevel: 1 })
    .toFile(join(dir, name));

async function lift(): Promise<void> {
  const source = await rgba(join(demo, 'centre.png'));
  const depth = await deep(join(demo, 'depth16.png'));
  const tree = await grey(join(data, 'matte_fg.png'));
  const bench = await grey(join(data, 'matte_mid.png'));
  const cut = { tree: cutDepth(depth, { near: 1, far: 0 }, tree), bench: cutDepth(depth, { near: 1, far: 0 }, bench) };
  const pixels = [
    { id: 'bench', matte: bench, depth: cut.bench.depth },
    { id: 'tree', matte: tree, depth: cut.tree.depth },
  ];
  // Parallax of white and black of the demo's depth, from its truth.json: 26.25 px to each eye at white, none infinitely far.
  const part = {
    budget: { nearPx: -52.5, farPx: 0 },
    sourceEye: 'centre' as const,
    swapEyes: false,
    tearPx: 2,
    depth: { near: 1, far: 0 },
    source: { width: source.width },
  };
  const document = {
    ...part,
    plates: [
      { id: 'bench', matte: 'm', hidden: false, depth: cut.bench },
      { id: 'tree', matte: 'm', hidden: false, depth: cut.tree },
    ],
  };
  // Exact mattes need their holes pushed out by no more than a pixel.
  const laid = layOutPlates(source, depth, pixels, { push: 1 });
  const ground = plateGround(laid, null)!;
  const reveal = revealMap(sceneOf(document), laid, [-0.5, 0.5], { marginPx: 1 }).find((r) => r.id === null)!.mask;
  const patchOf = (method: FillMethod): Straight8 => {
    const more = method === 'continue' ? { depth, ignore: ground.hidden } : {};
    const fill = fillHole(ground.picture, reveal, method, { sampleFrom: ground.own, seed: 1, ...more });
    const patch = pictureOf(source, new Uint8Array(source.data.length), 'straight');
    for (let i = 0; i < reveal.data.length; i++)
      if (reveal.data[i]) {
        patch.data.set(fill.data.subarray(i * 4, i * 4 + 3), i * 4);
        patch.data[i * 4 + 3] = 255;
      }
    return patch;
  };
  // What the product does by itself, for the table of fills: holes pushed out by the picture's size.
  const usual = layOutPlates(source, depth, pixels);
  const usualGround = plateGround(usual, null)!;
  const usualReveal = revealMap(sceneOf(document), usual, [-0.5, 0.5], { marginPx: 3 }).find(
    (r) => r.id === null,
  )!.mask;
  await writeMask('hole.png', usualReveal);
  await writeMask('lifted.png', usualGround.hidden);
  await write(
    'filled.png',
    fillHole(usualGround.picture, usualReveal, 'texture', { sampleFrom: usualGround.own, seed: 1 }),
  );
  // Depth behind the plates, smoothly and by floors and walls, beside the ray-traced depth without the tree.
  const behind = layOutPlates(source, depth, [pixels[1]], { push: 1 });
  await writeDepth('behind-smooth.png', behind.depth);
  await writeDepth('behind-planes.png', goOnDepth(behind.depth, behind.hole!));
  await writeMask('behind-hole.png', behind.hole!);
  const alone = layOutPlates(source, depth, []);
  for (const [name, eye] of [
    ['left', -0.5],
    ['right', 0.5],
  ] as const) {
    await write(`depth-${name}.png`, renderView(sceneOf({ ...document, plates: [] }), alone, eye).picture);
    const mixed = { ...document, plates: [], partEdges: false };
    await write(`mixed-${name}.png`, renderView(sceneOf(mixed), alone, eye).picture);
  }
  for (const [prefix, method] of [
    ['plates', 'texture'],
    ['continued', 'continue'],
    ['smooth', 'smooth'],
  ] as const) {
    const whole = layOutPlates(source, depth, pixels, { fill: patchOf(method), push: 1 });
    await write(`${prefix}-left.png`, renderView(sceneOf(document), whole, -0.5).picture);
    await write(`${prefix}-right.png`, renderView(sceneOf(document), whole, 0.5).picture);
  }
  const w = 400;
  const h = 300;
  const crop = (from: Premultiplied8, x: number, y: number): Premultiplied8 => {
    const d = new Uint8Array(w * h * 4);
    for (let r = 0; r < h; r++)
      d.set(from.data.subarray(((y + r) * from.width + x) * 4, ((y + r) * from.width + x + w) * 4), r * w * 4);
    return { bits: 8 as const, alpha: 'premultiplied' as const, width: w, height: h, data: d };
  };
  const soft = await sharp(Buffer.from(source.data), {
    raw: { width: source.width, height: source.height, channels: 4 },
  })
    .blur(6)
    .raw()
    .toBuffer();
  const even: Premultiplied8 = { ...source, data: new Uint8Array(soft) };
  const onto = crop(even, 800, 650);
  const piece = crop(even, 200, 690);
  const mask: Mask = {
    width: w,
    height: h,
    data: Uint8Array.from({ length: w * h }, (_, i) => {
      const x = i % w;
      const y = Math.floor(i / w);
      return x >= 100 && x < 300 && y >= 70 && y < 230 ? 255 : 0;
    }),
  };
  await write('onto.png', onto);
  await write('piece.png', piece);
  await writeMask('mask.png', mask);
  seamlessClone(onto, piece, mask);
  await write('cloned.png', onto);
  writeFileSync(join(dir, 'done'), '');
}

void lift();
