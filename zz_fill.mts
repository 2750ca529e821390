import sharp from 'sharp';
import { execFileSync } from 'node:child_process';
import { continueFill } from './core/inpaint/continuation/continueFill';
import { fillHole } from './core/inpaint/fillHole';
import { pictureOf } from './core/raster/picture';
const D = '/usr/share/doc/opencv-doc/examples/data/';
const H = process.env.HOLES ?? '/work/shared/demo/holes/';
const sets: [string, string, string, string][] = [
  ['building', D + 'building.jpg', H + 'building.png', D + 'building.jpg'],
  ['leuven', D + 'leuvenA.jpg', H + 'leuven.png', D + 'leuvenA.jpg'],
  ['fruits', D + 'fruits.jpg', H + 'fruits.png', D + 'fruits.jpg'],
  ['home', D + 'home.jpg', H + 'home.png', D + 'home.jpg'],
  ['aloe', D + 'aloeL.jpg', H + 'aloe.png', D + 'aloeL.jpg'],
  ['orangery', '/work/shared/demo/orangery/centre.png', H + 'orangery.png', '/work/shared/demo/orangery/clean.png'],
];
const only = process.argv.slice(2);
for (const [name, file, holeFile, truth] of sets) {
  if (only.length && !only.includes(name)) continue;
  const { data, info } = await sharp(file).ensureAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const hb = await sharp(holeFile).extractChannel(0).raw().toBuffer();
  const { width, height } = info;
  const picture = pictureOf({ width, height }, new Uint8Array(data), 'straight');
  const hole = { width, height, data: new Uint8Array(hb) };
  let depth;
  if (name === 'orangery' && !process.env.NODEPTH) {
    const raw = await sharp('/work/shared/demo/orangery/depth16.png').toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer();
    depth = { width, height, data: new Uint16Array(raw.buffer, raw.byteOffset, width * height) };
  }
  const t = Date.now();
  const out = continueFill(picture, hole, { seed: Number(process.env.SEED ?? 1), ...(depth ? { depth } : {}) });
  const ms = Date.now() - t;
  const smooth = fillHole(picture, hole, 'smooth');
  for (const [n, p] of [['ours', out], ['smooth', smooth]] as const)
    await sharp(Buffer.from(p.data), { raw: { width, height, channels: 4 } }).removeAlpha().png().toFile(`/tmp/w/fill_${name}_${n}.png`);
  const say = execFileSync('/usr/bin/python3', ['/tmp/w/ssim.py', name, truth, holeFile], { encoding: 'utf8' }).trim();
  console.log(name, `${width}x${height}`, ms, 'ms', say);
}
