import { join } from 'node:path';
import { corkTwin, OPENCV, ROOT, scratch } from '../support/cli';
import { python } from '../support/python';

// Views against real and ray-traced pictures of the other eye, scored by OpenCV and numpy (bench/peers/warp.py).

interface Score {
  psnr_vis: number;
  psnr_hole: number;
  psnr_all: number;
  ssim_vis: number;
  ssim_all: number;
}
const SCORE = `
import sys, json
sys.path.insert(0, sys.argv[1]); out = sys.argv[2]; sys.argv = ['x']
import cv2, warp
`;

describe('Aloe (Scharstein and Pal, CVPR 2007; Middlebury 2006): left picture and true disparity to the right view', () => {
  const out = scratch();
  const ran = corkTwin(
    'views',
    '--picture',
    `${OPENCV}/aloeL.jpg`,
    '--depth',
    `${OPENCV}/aloeGT.png`,
    '--near',
    '-255',
    '--far',
    '0',
    '--source-eye',
    'left',
    '--out',
    out,
    '--json',
  );
  const score = JSON.parse(
    python(
      `${SCORE}
L, R, D, v, ins = warp.aloe()
print(json.dumps({'ours': {k: float(x) for k, x in warp.score(cv2.imread(out + '/right.png'), R, v, ins).items()}, 'remap': {k: float(x) for k, x in warp.score(warp.remap(L, D), R, v, ins).items()},
  'left': float(abs(cv2.imread(out + '/left.png').astype(int) - L).max())}))`,
      [join(ROOT, 'bench/peers'), out],
    ),
  ) as { ours: Score; remap: Score; left: number };

  test('runs', () => {
    expect(ran).toMatchObject({ status: 0, err: '' });
  });
  test('29.5 dB or better over pixels that both cameras see', () => {
    expect(score.ours.psnr_vis).toBeGreaterThanOrEqual(29.5);
  });
  test('25.4 dB or better over all known pixels, after filling', () => {
    expect(score.ours.psnr_all).toBeGreaterThanOrEqual(25.4);
  });
  test('beats the OpenCV remap baseline on every count', () => {
    for (const k of ['psnr_vis', 'psnr_all', 'ssim_vis', 'ssim_all'] as const)
      expect(score.ours[k]).toBeGreaterThan(score.remap[k]);
  });
  test('the left view is the left picture: the source stands for it', () => {
    expect(score.left).toBe(0);
  });
});

describe('the ray-traced orangery: centre and exact depth to the true left and right eye', () => {
  const out = scratch();
  // truth.json of the demo: d = 26.25 px * value / 65535 from the centre to each eye, so white has -52.5 px and infinity 0.
  const ran = corkTwin(
    'views',
    '--picture',
    join(ROOT, 'demo/orangery/centre.png'),
    '--depth',
    join(ROOT, 'demo/orangery/depth16.png'),
    '--near',
    '-52.5',
    '--far',
    '0',
    '--out',
    out,
    '--json',
  );
  const psnr = JSON.parse(
    python(
      `${SCORE}
import numpy as np
root = '${ROOT}'
C = cv2.imread(root + '/demo/orangery/centre.png'); d = cv2.imread(root + '/demo/orangery/depth16.png', -1).astype(np.float32) / 65535 * 26.25
P = lambda a, b: float(10 * np.log10(65025 / ((a.astype(np.float64) - b) ** 2).mean()))
res = {}
for eye, sign in (('right', 1), ('left', -1)):
    T = cv2.imread(root + '/tests/data/orangery/' + eye + '.png')
    base = warp.remap(C, d) if sign > 0 else cv2.flip(warp.remap(cv2.flip(C, 1), cv2.flip(d, 1)), 1)
    res[eye] = {'ours': P(cv2.imread(out + '/' + eye + '.png'), T), 'remap': P(base, T)}
print(json.dumps(res))`,
      [join(ROOT, 'bench/peers'), out],
    ),
  ) as Record<'left' | 'right', { ours: number; remap: number }>;

  test('runs, and tells the parallax range of the truth', () => {
    expect(ran).toMatchObject({ status: 0, err: '' });
    const report = JSON.parse(ran.out) as {
      parallaxPx: { nearest: number; farthest: number };
      width: number;
      views: number;
    };
    // truth.json: disparity_px_nearest_left_to_right 46.682
    expect(report).toMatchObject({ width: 1600, views: 2, parallaxPx: { farthest: 0 } });
    expect(report.parallaxPx.nearest).toBeCloseTo(-46.682, 2);
  });
  test.each(['left', 'right'] as const)(
    '%s: at least 1 dB better than the OpenCV baseline on the same input',
    (eye) => {
      expect(psnr[eye].ours).toBeGreaterThanOrEqual(psnr[eye].remap + 1);
    },
  );
});
