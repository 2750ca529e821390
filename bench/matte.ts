import { join } from 'node:path';
import sharp from 'sharp';
import { closedFormMatte } from '@/core/matte/closedForm';
import { feather, offsetEdge } from '@/core/matte/edge';
import { proposePieces } from '@/core/raster/pieces';
import { RegionPaint } from '@/core/matte/regionPaint';
import { STROKE_IN, STROKE_OUT } from '@/core/matte/strokes';
import { trimapOf, UNSURE } from '@/core/matte/trimap';
import { pythonJson } from './python';
import { cpuMs, ms, row, section, times } from './report';

const root = join(__dirname, '..');

/** Selections and mattes of the demo's tree at the sizes that an artist works at, beside OpenCV on the same size. */
export async function benchMatte(): Promise<void> {
  const at = async (width: number, height: number) => {
    const { data } = await sharp(join(root, 'demo/orangery/centre.png'))
      .resize(width, height, { fit: 'fill' })
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const matte = await sharp(join(root, 'tests/data/orangery/matte_fg.png'))
      .extractChannel(0)
      .resize(width, height, { fit: 'fill' })
      .raw()
      .toBuffer();
    return {
      picture: { bits: 8 as const, alpha: 'straight' as const, width, height, data: new Uint8Array(data) },
      matte: { width, height, data: new Uint8Array(matte) },
    };
  };
  const peer = pythonJson<Record<'grabCut' | 'distance' | 'blur', number>>(`
import cv2, numpy as np, json, time
cv2.setNumThreads(1)
a = cv2.resize(cv2.imread('../demo/orangery/centre.png'), (1788, 1118), interpolation=cv2.INTER_AREA)
m = np.full(a.shape[:2], cv2.GC_PR_BGD, np.uint8); s = 1788 / 1600
for x0, y0, x1, y1, v in ((280, 380, 520, 380, 1), (400, 250, 420, 540, 1), (330, 820, 480, 820, 1), (100, 100, 1500, 100, 0), (1060, 480, 1540, 560, 0), (60, 300, 100, 900, 0)):
    cv2.line(m, (int(x0 * s), int(y0 * s)), (int(x1 * s), int(y1 * s)), v, 18)
t = time.process_time(); cv2.grabCut(a, m, None, np.zeros((1, 65)), np.zeros((1, 65)), 1, cv2.GC_INIT_WITH_MASK); g = time.process_time() - t
b = cv2.resize(cv2.imread('../tests/data/orangery/matte_fg.png', 0), (6200, 3875))
t = time.process_time(); cv2.distanceTransform(b, cv2.DIST_L2, cv2.DIST_MASK_PRECISE); d = time.process_time() - t
t = time.process_time(); cv2.GaussianBlur(b, (0, 0), 4); f = time.process_time() - t
print(json.dumps({'grabCut': g * 1e3, 'distance': d * 1e3, 'blur': f * 1e3}))`);

  const two = await at(1788, 1118);
  const strokes = { width: 1788, height: 1118, data: new Uint8Array(1788 * 1118) };
  const line = ([x0, y0, x1, y1, v]: readonly [number, number, number, number, number]): void => {
    for (let t = 0; t <= 1; t += 1e-3)
      for (let r = -9; r <= 9; r++)
        for (let q = -9; q <= 9; q++)
          strokes.data[
            Math.round((y0 + (y1 - y0) * t) * 1.1175 + r) * 1788 + Math.round((x0 + (x1 - x0) * t) * 1.1175 + q)
          ] = v;
  };
  (
    [
      [280, 380, 520, 380, STROKE_IN],
      [400, 250, 420, 540, STROKE_IN],
      [330, 820, 480, 820, STROKE_IN],
      [100, 100, 1500, 100, STROKE_OUT],
      [1060, 480, 1540, 560, STROKE_OUT],
      [60, 300, 100, 900, STROKE_OUT],
    ] as const
  ).forEach(line);
  const first = cpuMs(() => {
    new RegionPaint(two.picture).solve(strokes);
  }, 3);
  const paint = new RegionPaint(two.picture);
  paint.solve(strokes);
  let turn = 0;
  const again = cpuMs(() => {
    turn++;
    const x = 200 + 30 * (turn % 10);
    line([x, 330, x + 30, 340, turn % 2 ? STROKE_IN : STROKE_OUT]);
    paint.solve(strokes);
  }, 12);
  const band = trimapOf(two.matte, 17);
  const unsure = band.data.reduce((n, v) => n + (v === UNSURE ? 1 : 0), 0);
  const matting = cpuMs(() => closedFormMatte(two.picture, band), 2);
  const large = await at(6200, 3875);
  const twelve = await at(4384, 2740);
  section('Selections and mattes, CPU time');
  row('region paint 2 MP: the picture’s pieces and the first solve from six strokes', ms(first));
  row('  one more stroke', ms(again), { text: 'under 200 ms', met: again < 200 });
  row('  OpenCV grabCut, one turn', ms(peer.grabCut));
  row('  grabCut’s time over that of one more stroke', times(peer.grabCut / again));
  row(`matting of a band of ${Math.round(unsure / 1000)} 000 px in 2 MP`, ms(matting));
  row('edge offset 24 MP (two distances)', ms(cpuMs(() => offsetEdge(large.matte, 6), 2)));
  row('  OpenCV distance transform, one', ms(peer.distance));
  row('feather 24 MP, 4 px', ms(cpuMs(() => feather(large.matte, 4), 2)));
  row('  OpenCV GaussianBlur, 4 px', ms(peer.blur));
  row('pieces of 12 MP', ms(cpuMs(() => proposePieces(twelve.picture), 1)));
}
