import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import sharp from 'sharp';
import { readyMove } from '@/core/camera/ready';
import { widened } from '@/core/raster/bits';
import type { DepthMap, Mask } from '@/core/raster/picture';
import { wholeScene } from '@/core/scene/sceneAt';
import type { CameraPart, MovePart, Plate } from '@/core/shot/document';
import { cutDepth } from '@/core/shot/cutPlate';
import { pixelsOf } from '@/server/media/pixelsOf';
import { storePicture } from '@/server/rasters/pictures';
import { storeMap } from '@/server/rasters/revisions';
import { changeShot, shotState } from '@/server/shots/history';
import { begunPlate } from '@/server/shots/pieces';

/** The camera that the picture was rendered with; metres. Behind the glass there is no end. */
const CAMERA: CameraPart = {
  focalPx: 1350,
  principalPoint: { x: 799.5, y: 404.5 },
  near: 2.7,
  depth: null,
  base: 'stays',
};
const PLATES = [
  { name: 'Potting bench', matte: 'matte_bench.png' },
  { name: 'Orange tree', matte: 'matte_tree.png' },
];
/** A drift in which nothing runs dry, opens or leaves comfort. */
const DRIFT = { kind: 'drift', strength: 0.55, seconds: 5, fps: 24 };

/**
 * Cuts the orangery's plates, fills what lies behind them, and sets a camera drifting: one step, that can be taken
 * back.
 */
export async function finishOrangery(shot: string, folder: string, depth: DepthMap): Promise<void> {
  const { head, document } = await shotState(shot);
  const fill = await sharp(join(folder, 'fill_back.png')).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const mattes = await Promise.all(PLATES.map(({ matte }) => readMatte(join(folder, matte))));
  await changeShot(
    { id: shot, expectedHead: head, changeId: randomUUID() },
    'Plates, fills and a drift',
    async (em, current) => {
      const plates: Plate[] = [];
      for (const [n, { name }] of PLATES.entries()) {
        const cut = cutDepth(depth, document.depth, mattes[n]);
        plates.push({
          ...begunPlate(name),
          matte: (await storeMap(em, { ...mattes[n], data: widened(mattes[n].data) })).id,
          depth: { revision: (await storeMap(em, cut.depth)).id, near: cut.near, far: cut.far },
        });
      }
      const next = {
        ...current,
        camera: CAMERA,
        plates,
        fill: (await storePicture(em, pixelsOf(fill.data, fill.info, 8))).id,
      };
      const { camera, width, height } = wholeScene(next);
      const frames = DRIFT.seconds * DRIFT.fps;
      const drift = readyMove(DRIFT.kind)!;
      const move: MovePart = {
        fps: DRIFT.fps,
        frames,
        path: drift.path,
        pace: 'keys',
        play: 'there-and-back',
        range: null,
        ready: { kind: drift.kind, strength: DRIFT.strength },
        keys: drift.keys({ camera, width, height, frames, depth: 0.5 }, DRIFT.strength) as MovePart['keys'],
      };
      return { ...next, move };
    },
  );
}

async function readMatte(path: string): Promise<Mask> {
  const { data, info } = await sharp(path).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}
