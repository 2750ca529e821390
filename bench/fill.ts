import { sceneOf } from '@/core/scene/sceneOf';
import { join } from 'node:path';
import sharp from 'sharp';
import { fillHole } from '@/core/inpaint/fillHole';
import { revealMap } from '@/core/fill/revealMap';
import type { DepthMap, Mask, Premultiplied8 } from '@/core/raster/picture';
import { layOutPlates } from '@/core/shot/layOut';
import { eyePositions } from '@/core/stereo/parallax';
import { pythonJson } from './python';
import { cpuMs, ms, row, section, times } from './report';

const root = join(__dirname, '..');

/** Filling a hole of a tenth of the picture, and the reveal map of five plates, beside OpenCV's inpaint on the same hole. */
export async function benchFill(): Promise<void> {
  const at = async (width: number, height: number): Promise<Premultiplied8> => {
    const { data } = await sharp(join(root, 'demo/orangery/centre.png'))
      .resize(width, height, { fit: 'fill' })
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data: new Uint8Array(data) };
  };
  const depthAt = async (width: number, height: number): Promise<DepthMap> => {
    const { data } = await sharp(join(root, 'demo/orangery/depth16.png'))
      .toColourspace('grey16')
      .resize(width, height, { fit: 'fill', kernel: 'nearest' })
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    return { width, height, data: new Uint16Array(data.buffer, data.byteOffset, width * height) };
  };
  // A disc of a tenth of the picture's pixels, the same for OpenCV.
  const disc = ({ width, height }: { width: number; height: number }): Mask => {
    const r2 = (0.1 * width * height) / Math.PI;
    return {
      width,
      height,
      data: Uint8Array.from({ length: width * height }, (_, i) =>
        ((i % width) - width * 0.4) ** 2 + (Math.floor(i / width) - height / 2) ** 2 < r2 ? 255 : 0,
      ),
    };
  };
  section('Fill and reveal, CPU time');
  for (const [name, width, height] of [
    ['2 MP', 1788, 1118],
    ['12 MP', 4384, 2740],
  ] as const) {
    const picture = await at(width, height);
    const hole = disc(picture);
    const peer = pythonJson<Record<'telea' | 'ns', number>>(`
import cv2, numpy as np, json, sys, time
cv2.setNumThreads(1); w, h = ${width}, ${height}
a = cv2.resize(cv2.imread('../demo/orangery/centre.png'), (w, h), interpolation=cv2.INTER_CUBIC); y, x = np.mgrid[0:h, 0:w]
m = ((x - w * .4) ** 2 + (y - h / 2) ** 2 < .1 * w * h / np.pi).astype(np.uint8) * 255; out = {}
for n, f in (('telea', cv2.INPAINT_TELEA), ('ns', cv2.INPAINT_NS)):
    t = time.process_time(); cv2.inpaint(a, m, 5, f); out[n] = (time.process_time() - t) * 1e3
print(json.dumps(out))`);
    const texture = cpuMs(() => fillHole(picture, hole, 'texture'), 1);
    const smooth = cpuMs(() => fillHole(picture, hole, 'smooth'), 1);
    const continued = cpuMs(() => fillHole(picture, hole, 'continue'), 1);
    const map = await depthAt(width, height);
    const byPlanes = cpuMs(() => fillHole(picture, hole, 'continue', { depth: map }), 1);
    row(`texture fill of a tenth of ${name}`, ms(texture));
    row('  its time over that of OpenCV inpaint, Telea', times(texture / peer.telea));
    row('  over that of OpenCV inpaint, Navier-Stokes', times(texture / peer.ns));
    row(`filled as it goes on, a tenth of ${name}`, ms(continued));
    row('  its time over that of OpenCV inpaint, Telea', times(continued / peer.telea));
    row('  with depth: floors and walls looked for and followed', ms(byPlanes));
    row('  its time over that of OpenCV inpaint, Telea', times(byPlanes / peer.telea));
    row(`smooth fill of a tenth of ${name}`, ms(smooth));
    row('  OpenCV inpaint, Telea', ms(peer.telea));
    if (width !== 1788) continue;
    // Five plates, one before the other, as upright bars of a sixth of the width each.
    const n = width * height;
    const depth = { width, height, data: new Uint16Array(n).fill(6000) };
    const plates = Array.from({ length: 5 }, (_, k) => ({
      id: `p${k}`,
      matte: {
        width,
        height,
        data: Uint8Array.from({ length: n }, (_v, i) => {
          const x = i % width;
          const y = Math.floor(i / width);
          return x > (k * width) / 6 && x < ((k + 1.1) * width) / 6 && y > height * (0.1 + 0.1 * k) && y < height * 0.95
            ? 255
            : 0;
        }),
      },
      depth: { width, height, data: new Uint16Array(n).fill(32768) },
    }));
    const document = {
      budget: { nearPx: -30, farPx: 25 },
      sourceEye: 'centre' as const,
      swapEyes: false,
      tearPx: 2,
      depth: { near: 1, far: 0 },
      source: { width },
      plates: plates.map((p, k) => ({
        id: p.id,
        matte: 'm',
        hidden: false,
        depth: { near: 0.3 + 0.13 * k, far: 0.2 + 0.13 * k },
      })),
    };
    const rasters = layOutPlates(picture, depth, plates);
    const reveal = cpuMs(() => revealMap(sceneOf(document), rasters, eyePositions(24)), 1);
    const eyes = cpuMs(() => revealMap(sceneOf(document), rasters, [-0.5, 0.5]), 3);
    row('reveal map of five plates, 2 MP, 24 views', ms(reveal));
    row('  its time over that of one inpaint, Telea', times(reveal / peer.telea));
    row('reveal map of five plates, 2 MP, both eyes', ms(eyes));
  }
}
