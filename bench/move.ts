import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Move } from '@/core/camera/move';
import { STANDING } from '@/core/camera/pose';
import { openGuard } from '@/core/move/guard/guard';
import { movedView, openMove } from '@/core/move/openMove';
import { pictureOf, type DepthMap, type Premultiplied8 } from '@/core/raster/picture';
import { sceneAt, wholeScene, type MovedPart } from '@/core/scene/sceneAt';
import type { ShotRasters } from '@/core/shot/rasters';
import { writeVideo } from '@/server/media/video/encode';
import { pythonJson } from './python';
import { cpuMs, ms, row, section, times } from './report';

/** Discs of the picture as plates, nearer and nearer, with depth maps that bulge; shares of the width and height. */
const DISCS = [
  { x: 0.2, y: 0.4, r: 0.16 },
  { x: 0.75, y: 0.35, r: 0.15 },
  { x: 0.5, y: 0.6, r: 0.16 },
  { x: 0.35, y: 0.8, r: 0.15 },
];

/** The demo's picture at a size with its hard depth map, and four plates of some 15 % before it. */
async function shotOf(width: number): Promise<{ document: MovedPart; rasters: ShotRasters<Premultiplied8> }> {
  const height = Math.round(width / 1.6);
  const demo = join(__dirname, '../demo/orangery');
  const size = { width, height };
  const read = sharp(join(demo, 'centre.png')).resize(width, height).ensureAlpha().raw();
  const picture = pictureOf(size, new Uint8Array(await read.toBuffer()), 'premultiplied');
  const grey = await sharp(join(demo, 'depth16.png'))
    .toColourspace('grey16')
    .resize(width, height, { kernel: 'nearest' })
    .raw({ depth: 'ushort' })
    .toBuffer();
  const depth: DepthMap = { ...size, data: new Uint16Array(grey.buffer, grey.byteOffset, width * height) };
  const plates = DISCS.map(({ x, y, r }, n) => {
    const data = new Uint8Array(picture.data);
    const map = new Uint16Array(width * height);
    for (let i = 0; i < map.length; i++) {
      const away = Math.hypot((i % width) / width - x, (i / width / height - y) / 1.6) / r;
      const cover = Math.max(0, Math.min(1, (1 - away) * 60));
      for (let c = i * 4; c < i * 4 + 4; c++) data[c] = Math.round(data[c] * cover);
      map[i] = Math.round(65535 * Math.sqrt(Math.max(0, 1 - away * away)));
    }
    return {
      id: `disc ${n}`,
      top: 0,
      columns: { left: 0, right: width },
      picture: pictureOf(size, data, 'premultiplied'),
      depth: { ...size, data: map },
    };
  });
  const document: MovedPart = {
    budget: { nearPx: -0.0125 * width, farPx: 0.01625 * width },
    sourceEye: 'centre',
    swapEyes: false,
    tearPx: 2,
    source: size,
    depth: { near: 1, far: 0 },
    plates: plates.map(({ id }, n) => ({
      id,
      matte: id,
      hidden: false,
      depth: { near: 0.5 + 0.12 * n, far: 0.42 + 0.12 * n },
    })),
  };
  return { document, rasters: { picture, depth, plates } };
}

/** A drift of five seconds: the nearest moves by some 3 % of the width. */
const MOVE: Move = {
  fps: 24,
  frames: 120,
  path: 'straight',
  pace: 'keys',
  keys: [
    { frame: 0, ease: 'gentle', value: STANDING },
    { frame: 119, ease: 'gentle', value: { ...STANDING, position: [0.06, 0.01, 0.2] } },
  ],
};

const PEER = `
import sys, json, time, numpy as np, cv2
out, w, h = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
cv2.setNumThreads(1)
plates = [(np.fromfile(f'{out}/p{n}', np.uint8).reshape(h, w, 4), np.fromfile(f'{out}/d{n}', np.uint16).reshape(h, w).astype(np.float32)) for n in range(5)]
spans = json.load(open(out + '/spans.json'))
xs, ys = np.meshgrid(np.arange(w, dtype=np.float32), np.arange(h, dtype=np.float32))
f = w / 2 / np.tan(np.radians(25)); C = np.array([0.06, -0.01, 0.2]) * 0.5; cx, cy = (w - 1) / 2, (h - 1) / 2
def frame():
    base = np.zeros((h, w, 4), np.float32)
    for (picture, depth), (near, far) in zip(plates, spans):
        inverse = cv2.addWeighted(depth, (near - far) / 65535, depth, 0, far)
        u, v = xs.copy(), ys.copy()
        for _ in range(4):
            wi = cv2.remap(inverse, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
            z = 1 - wi * C[2]
            u = (xs - cx) * z + f * wi * C[0] + cx; v = (ys - cy) * z + f * wi * C[1] + cy
        warped = cv2.remap(picture, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32)
        base = warped + base * (1 - warped[..., 3:] / 255)
    return base.astype(np.uint8)
best = 1e9
for _ in range(3):
    t = time.process_time(); frame(); best = min(best, time.process_time() - t)
print(json.dumps(best * 1e3))`;

/** A camera through five plates: preview and final frames, the guard, and a whole video. */
export async function benchMove(): Promise<void> {
  const dir = mkdtempSync(join(tmpdir(), 'cork-bench-'));
  try {
    const small = await shotOf(1280);
    const scene = wholeScene(small.document);
    const at = sceneAt(scene, MOVE, 60);
    const preview = openMove(small.rasters);
    const view = movedView(small.rasters.picture, preview.size);
    const shown = cpuMs(() => {
      preview.render(at, null, view);
    }, 12);
    const part = { left: 0, top: 0, right: scene.width, bottom: scene.height };
    const guard = openGuard(small.rasters, new Map(), 1, part);
    const guarded = cpuMs(() => guard.see(scene, MOVE, 60, [null]), 12) * MOVE.frames;

    const large = await shotOf(1728);
    const whole = wholeScene(large.document);
    const { width, height } = large.rasters.picture;
    const final = openMove(large.rasters, { fine: true });
    const frame = movedView(large.rasters.picture, final.size);
    const made = cpuMs(() => {
      final.render(sceneAt(whole, MOVE, 60), null, frame);
    }, 8);
    const surfaces = [{ picture: large.rasters.picture, depth: large.rasters.depth }, ...large.rasters.plates];
    surfaces.forEach((surface, n) => {
      writeFileSync(join(dir, `p${n}`), surface.picture.data);
      writeFileSync(join(dir, `d${n}`), surface.depth.data);
    });
    const { near, far } = whole.camera;
    const inverse = (d: number): number => d / near + (1 - d) / far;
    const spans = [whole.back, ...whole.plates].map((s) => [inverse(s.near), inverse(s.far)]);
    writeFileSync(join(dir, 'spans.json'), JSON.stringify(spans));
    const peer = pythonJson<number>(PEER, [dir, String(width), String(height)]);

    const film = async (render: boolean): Promise<number> => {
      const began = performance.now();
      const writer = writeVideo(join(dir, 'film.mp4'), { width, height, format: 'mp4', fps: 24 });
      for (let n = 0; n < 24; n++) {
        if (render) final.render(sceneAt(whole, MOVE, 48 + n), null, frame);
        await writer.frame(frame.picture);
      }
      await writer.end();
      return performance.now() - began;
    };
    const alone = await film(false);
    const chain = await film(true);

    section('A camera through five plates with mattes and depth maps, CPU time on one core');
    const rate = (2 * 1000) / shown;
    row('1280 x 800, one eye, bilinear', ms(shown));
    row('  frames a second on two cores', rate.toFixed(1), { text: '30', met: rate >= 30 });
    row(`${width} x ${height} (the pixels of 1080p), as handed over`, ms(made));
    row('  OpenCV, four turns of remap for each plate, over', ms(peer));
    row('  faster than OpenCV', times(peer / made));
    row('24 frames with x264, beside x264 alone (wall)', times(chain / alone));
    row('guard over 120 frames', ms(guarded));
  } finally {
    rmSync(dir, { recursive: true });
  }
}
