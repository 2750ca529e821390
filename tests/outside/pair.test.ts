import { join } from 'node:path';
import sharp from 'sharp';
import { corkTwin, OPENCV, scratch } from '../support/cli';
import { readMap } from '../support/pictures';
import { python } from '../support/python';

// Aloe, left and right, with measured disparities (Scharstein and Pal, CVPR 2007): how many of all known pixels are
// off by more than 2 px, beside OpenCV's semi-global matcher in its fullest mode, holes filled from the farther side
// as here.

const dir = scratch();
const left = join(OPENCV, 'aloeL.jpg');
const right = join(OPENCV, 'aloeR.jpg');

/** Share of bad pixels of OpenCV's matcher, of several settings the best, in %. */
const SGBM = `
import cv2, numpy as np, sys
l, r = cv2.imread(sys.argv[1]), cv2.imread(sys.argv[2]); g = cv2.imread(sys.argv[3], 0).astype(float); best = 100
for block, unique, agree in ((3, 5, 1), (5, 0, 1), (3, 0, -1)):
    s = cv2.StereoSGBM_create(minDisparity=0, numDisparities=256, blockSize=block, P1=24 * block * block, P2=96 * block * block,
        disp12MaxDiff=agree, uniquenessRatio=unique, speckleWindowSize=100, speckleRange=2, mode=cv2.STEREO_SGBM_MODE_HH)
    d = s.compute(l, r).astype(float) / 16; h, w = d.shape; x = np.arange(w)
    for y in range(h):
        ok = d[y] >= 0
        if not ok.any(): continue
        a = np.maximum.accumulate(np.where(ok, x, -1)); b = np.minimum.accumulate(np.where(ok, x, w)[::-1])[::-1]
        left = np.where(a >= 0, d[y][np.maximum(a, 0)], 1e9); right = np.where(b < w, d[y][np.minimum(b, w - 1)], 1e9)
        d[y] = np.where(ok, d[y], np.minimum(left, right))
    best = min(best, (np.abs(d - g)[g > 0] > 2).mean() * 100)
print(best)`;

test('Aloe: not more bad pixels than OpenCV’s semi-global matching', async () => {
  const out = join(dir, 'aloe.png');
  const {
    status,
    out: said,
    err,
  } = corkTwin('depth-from-pair', '--left', left, '--right', right, '--out', out, '--json');
  expect([status, err]).toEqual([0, '']);
  const { near, far, width, height } = JSON.parse(said) as Record<string, number>;
  const map = await readMap(out);
  expect([map.width, map.height]).toEqual([width, height]);
  const truth = await sharp(join(OPENCV, 'aloeGT.png')).extractChannel(0).raw().toBuffer();
  let [bad, known] = [0, 0];
  for (let i = 0; i < truth.length; i++) {
    if (truth[i] === 0) continue;
    known++;
    // A disparity is the parallax xR - xL, turned round.
    if (Math.abs(-(far + ((near - far) * map.data[i]) / 65535) - truth[i]) > 2) bad++;
  }
  const theirs = Number(python(SGBM, [left, right, join(OPENCV, 'aloeGT.png')]));
  if (process.env.CORK_TABLES) console.info('bad pixels, %: ours', (100 * bad) / known, 'OpenCV', theirs);
  expect((100 * bad) / known).toBeLessThanOrEqual(theirs);
});

test('pictures of two sizes are refused by both names and sizes', () => {
  const other = join(OPENCV, 'fruits.jpg');
  const { status, err } = corkTwin('depth-from-pair', '--left', left, '--right', other, '--out', join(dir, 'x.png'));
  expect(status).toBe(1);
  expect(err).toMatch(/fruits\.jpg is 512 × 480 px but aloeL\.jpg is 1282 × 1110 px/);
});
