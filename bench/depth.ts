import { join } from 'node:path';
import sharp from 'sharp';
import { BrushStroke, type BrushSettings } from '@/core/depth/brush';
import { makeDepth } from '@/core/depth/makers';
import { depthFromMarks } from '@/core/depth/marks/depthFromMarks';
import { marksOf } from '@/core/depth/marks/marksOf';
import { markGround } from '@/core/depth/marks/nodes';
import { depthFromPair } from '@/core/depth/pair/depthFromPair';
import { DEFAULT_CUES } from '@/core/depth/start/cues';
import { Start } from '@/core/depth/start/generateStart';
import { fastGlobalSmoother } from '@/core/raster/fastGlobalSmoother';
import { pictureOf, type Picture8 } from '@/core/raster/picture';
import { pythonJson } from './python';
import { cpuMs, median, ms, row, section, times } from './report';

const root = join(__dirname, '..');
const OPENCV = '/usr/share/doc/opencv-doc/examples/data';

async function picture(path: string, width?: number, height?: number): Promise<Picture8> {
  const image = sharp(path);
  const { data, info } = await (width ? image.resize(width, height, { fit: 'fill' }) : image)
    .toColourspace('srgb')
    .removeAlpha()
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint8Array(data), 'straight');
}

/** A brush stroke goes 40 px from frame to frame, ms of one such: the median of 60. */
function brushFrame(edge: number, mode: BrushSettings['mode'] = 'set'): number {
  const size = { width: 3840, height: 2160 };
  const colours = new Uint8Array(size.width * size.height * 4).map(
    (_, i) => ((i >> 2) % 640 < 320 ? 90 : 150) + (i % 5),
  );
  const window = { left: 0, top: 0, scale: 1, ...size, data: new Uint16Array(size.width * size.height), colours };
  const stroke = new BrushStroke(window, {
    ...{ mode, depth: 0.7, size: 200, hardness: 0.5, strength: 1, pressure: 'none', edge },
  });
  const took: number[] = [];
  for (let n = 0; n < 64; n++) {
    const points = [0, 10, 20, 30].map((d) => ({ x: 400 + 40 * n + d, y: 900 + 300 * Math.sin(n / 9), pressure: 1 }));
    took.push(cpuMs(() => stroke.add(points), 1));
  }
  return median(took.slice(4));
}

/** Depth maps from marks, cues and a second picture, beside OpenCV. */
export async function benchDepth(): Promise<void> {
  const peer = pythonJson<Record<'smoother' | 'sgbm' | 'guided', number>>(
    `
import cv2, numpy as np, json, time
cv2.setNumThreads(1)
def cpu(f, n):
    best = 1e9
    for _ in range(n): t = time.process_time(); f(); best = min(best, time.process_time() - t)
    return best * 1e3
a = cv2.resize(cv2.imread('../demo/orangery/centre.png'), (1356, 848)); d = np.random.rand(848, 1356).astype(np.float32)
s = cpu(lambda: cv2.ximgproc.createFastGlobalSmootherFilter(a, 1e5, 6, .25, 3).filter(d), 5)
l, r = cv2.imread('${OPENCV}/aloeL.jpg'), cv2.imread('${OPENCV}/aloeR.jpg')
m = cv2.StereoSGBM_create(0, 256, 5, 600, 2400, 1, 0, 5, 100, 2, cv2.STEREO_SGBM_MODE_HH)
g = cv2.resize(cv2.imread('../demo/orangery/centre.png'), (1920, 1080)); e = np.random.rand(1080, 1920).astype(np.float32)
k = cpu(lambda: cv2.ximgproc.guidedFilter(g, e, 10, 50.0), 4)
print(json.dumps({'smoother': s, 'guided': k, 'sgbm': cpu(lambda: m.compute(l, r), 2)}))`,
  );
  const megapixel = await picture(join(root, 'demo/orangery/centre.png'), 1356, 848);
  const { width, height } = megapixel;
  const plane = new Float32Array(width * height).map((_, i) => (i * 37) % 101);
  const smoothing = cpuMs(() => {
    fastGlobalSmoother(plane, megapixel.data, { width, height, lambda: 1e5, sigma: 6, passes: 3 });
  }, 8);
  const drawn = await sharp(join(root, 'tests/data/marks/orangery-artist-1.png'))
    .resize(width, height, { kernel: 'nearest', fit: 'fill' })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  const marks = marksOf(
    pictureOf({ width, height }, new Uint16Array(drawn.buffer, drawn.byteOffset, drawn.length / 2), 'straight'),
  );
  const ready = cpuMs(() => markGround(megapixel).nodes(0), 2);
  const ground = markGround(megapixel);
  const live = cpuMs(() => depthFromMarks(megapixel, ground, marks), 6);
  const exact = cpuMs(() => depthFromMarks(megapixel, ground, marks, { exact: true }), 4);
  const twelve = await picture(join(root, 'demo/orangery/centre.png'), 4382, 2739);
  const start = cpuMs(() => new Start(twelve).depth(DEFAULT_CUES), 2);
  const [left, right] = [await picture(join(OPENCV, 'aloeL.jpg')), await picture(join(OPENCV, 'aloeR.jpg'))];
  const pair = cpuMs(() => depthFromPair(left, right), 2);

  const hd = await picture(join(root, 'demo/orangery/centre.png'), 1920, 1080);
  const soft = {
    width: 1920,
    height: 1080,
    data: new Uint16Array(1920 * 1080).map((_, i) => ((i % 1920) * 34) & 65535),
  };
  const fitted = (by: 'smoothed' | 'guided'): number =>
    cpuMs(() => makeDepth({ picture: hd, depth: soft, scale: 1 }, { kind: 'fit', by, reach: 10, edge: 8 }), 4);
  const [smooth, guided] = [fitted('smoothed'), fitted('guided')];
  const frames = { plain: brushFrame(0), stopped: brushFrame(40), pushed: brushFrame(0, 'push') };

  section('Depth maps, one core', `${marks.length} marks as an artist sets them, 1356 x 848 px.`);
  row('fast global smoother, 3 passes, 1.15 MP', ms(smoothing));
  row('  beside OpenCV ximgproc', times(smoothing / peer.smoother), {
    text: '0.7 of its time',
    met: smoothing / peer.smoother <= 0.7,
  });
  row('a picture made ready for marks, once', ms(ready));
  row('a stroke, live', ms(live), { text: '300 ms', met: live < 300 });
  row('the same, exact', ms(exact));
  row('fitted to edges, 1080p, by smoothing', ms(smooth));
  row('  beside OpenCV ximgproc guided filter', times(smooth / peer.guided), {
    text: '0.8 of its time',
    met: smooth / peer.guided <= 0.8,
  });
  row('fitted to edges, 1080p, guided by colour', ms(guided));
  row('  beside OpenCV ximgproc guided filter', times(guided / peer.guided));
  const frame = (name: string, v: number): void => {
    row(name, ms(v), { text: '16.7 ms', met: v < 16.7 });
  };
  frame('a frame of a brush of 200 px at 3840 x 2160', frames.plain);
  frame('  stopped by edges', frames.stopped);
  frame('  pushing', frames.pushed);
  row('a start from cues, 12 MP', ms(start), { text: '10 s', met: start < 10_000 });
  row('depth from a pair, 1.4 MP', ms(pair));
  row('  beside OpenCV StereoSGBM, HH, 256 disparities', times(pair / peer.sgbm));
}
