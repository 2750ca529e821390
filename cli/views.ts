import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { premultiply, unpremultiply } from '@/core/raster/alpha';
import { eyePositions } from '@/core/stereo/parallax';
import { synthesizeView, viewBuffers } from '@/core/stereo/synthesizeView';
import { fitDepth, readDepthFile } from '@/server/media/depthFile';
import { writePicture } from '@/server/media/writePicture';
import { readPicture } from './pictures';
import { needed, number, oneOf, readWords, WrongWords } from './words';

/** Views of a picture with its depth: left.png and right.png, or view_001.png and so on, leftmost eye first. */
export async function views(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' }, depth: { type: 'string' }, invert: { type: 'boolean' }, near: { type: 'string' }, far: { type: 'string' },
    'source-eye': { type: 'string' }, views: { type: 'string' }, holes: { type: 'string' }, out: { type: 'string' }, json: { type: 'boolean' },
  });
  const picturePath = needed('picture', given.picture), depthPath = needed('depth', given.depth), out = needed('out', given.out);
  const budget = { nearPx: number('near', given.near), farPx: number('far', given.far) };
  const sourceEye = oneOf('source-eye', given['source-eye'], ['left', 'centre', 'right'] as const, 'centre');
  const holes = oneOf('holes', given.holes, ['keep', 'fill'] as const, 'fill');
  const count = number('views', given.views, 2);
  if (!Number.isInteger(count) || count < 2 || count > 200) throw new WrongWords(`--views takes a whole number from 2 to 200, not '${given.views}'.`);

  const began = performance.now();
  const { picture, header } = await readPicture(picturePath);
  const map = fitDepth(await readDepthFile(depthPath, basename(depthPath), { whiteIsNear: !given.invert, smooth: true }), picture, basename(depthPath));
  if (header.hasAlpha) premultiply(picture);
  const read = performance.now();
  let rendering = 0, writing = 0, most = 0;
  const shares: number[] = [];
  await mkdir(out, { recursive: true });
  const buffers = viewBuffers(picture);
  const eyes = eyePositions(count);
  for (let n = 0; n < count; n++) {
    const start = performance.now();
    const view = synthesizeView(picture, map, { budget, sourceEye, eye: eyes[n], holes }, buffers);
    if (header.hasAlpha) unpremultiply(view.picture);
    const share = view.revealedCount / (picture.width * picture.height);
    shares.push(share);
    most = Math.max(most, share);
    const done = performance.now();
    rendering += done - start;
    const name = count === 2 ? ['left', 'right'][n] : `view_${String(n + 1).padStart(3, '0')}`;
    await writePicture(join(out, `${name}.png`), view.picture, header.bits === 16 ? 'png16' : 'png', { alpha: header.hasAlpha || holes === 'keep' });
    writing += performance.now() - done;
  }
  if (given.json) {
    let low = 65535, high = 0;
    for (const d of map.data) { if (d < low) low = d; if (d > high) high = d; }
    const at = (d: number): number => round(budget.farPx + ((budget.nearPx - budget.farPx) * d) / 65535, 3);
    console.log(JSON.stringify({
      width: picture.width, height: picture.height, bits: header.bits, views: count,
      ms: { read: round(read - began, 1), render: round(rendering, 1), write: round(writing, 1), all: round(performance.now() - began, 1) },
      parallaxPx: { nearest: at(high), farthest: at(low) },
      revealedShare: { most: round(most, 6), views: shares.map((s) => round(s, 6)) },
    }));
  }
}

const round = (v: number, decimals: number): number => Math.round(v * 10 ** decimals) / 10 ** decimals;
