import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { guidedFilter } from '@/core/raster/guidedFilter';
import { pictureOf } from '@/core/raster/picture';
import sharp from 'sharp';
import { ROOT, scratch } from '../support/cli';
import { python } from '../support/python';

// Peer: OpenCV's own guided filter (ximgproc, after He, Sun and Tang 2013), on the demo's picture and depth.

const [width, height] = [400, 250];
const dir = scratch();

test.each([
  [4, 1e-2],
  [8, 1e-3],
  [15, 4e-4],
])('the guided filter is OpenCV’s, radius %d, epsilon %d', async (radius, epsilon) => {
  const guide = await sharp(join(ROOT, 'demo/orangery/centre.png'))
    .resize(width, height)
    .removeAlpha()
    .ensureAlpha()
    .raw()
    .toBuffer();
  const depth = await sharp(join(ROOT, 'demo/orangery/depth16.png'))
    .resize(width, height, { kernel: 'nearest' })
    .toColourspace('grey16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  const values = new Uint16Array(depth.buffer, depth.byteOffset, width * height);
  const plane = Float32Array.from(values, (v) => v / 65535);
  writeFileSync(join(dir, 'guide.raw'), guide);
  writeFileSync(join(dir, 'plane.raw'), Buffer.from(plane.buffer));
  python(
    `
import cv2, numpy as np, sys
d, w, h, r, e = sys.argv[1], *map(float, sys.argv[2:])
w, h = int(w), int(h)
g = np.fromfile(d + '/guide.raw', np.uint8).reshape(h, w, 4)[:, :, :3]
p = np.fromfile(d + '/plane.raw', np.float32).reshape(h, w)
cv2.ximgproc.guidedFilter(np.ascontiguousarray(g), p, int(r), e * 255 * 255).tofile(d + '/out.raw')`,
    [dir, String(width), String(height), String(radius), String(epsilon)],
  );
  const bytes = readFileSync(join(dir, 'out.raw'));
  const peer = new Float32Array(bytes.buffer, bytes.byteOffset, width * height);
  const made = guidedFilter(plane, pictureOf({ width, height }, new Uint8Array(guide), 'straight'), {
    radius,
    epsilon,
  });
  let worst = 0;
  // At the border OpenCV mirrors the picture and ours takes what there is: two windows away nothing of that is left.
  for (let y = 2 * radius; y < height - 2 * radius; y++)
    for (let x = 2 * radius; x < width - 2 * radius; x++)
      worst = Math.max(worst, Math.abs(made[y * width + x] - peer[y * width + x]));
  // Both hold means of products as floats of 24 bits (6e-8 of values up to 1); the covariances of a few of them are
  // divided by epsilon.
  expect(worst).toBeLessThan((10 * 6e-8) / epsilon + 1e-5);
});
