import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { ChoiceMaker, PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import { widened } from '@/core/raster/bits';
import type { DepthMap } from '@/core/raster/picture';
import type { PlateKey, ShotDocument } from '@/core/shot/document';
import { cutDepth } from '@/core/shot/cutPlate';
import { readRasterEightBits, sourceRaster } from '@/server/media/decode';
import { readDepthFile } from '@/server/media/depthFile';
import { storeMap } from '@/server/rasters/revisions';
import { storeChoice } from '@/server/shots/choices';
import { changeShot, shotState } from '@/server/shots/history';
import { begunPlate } from '@/server/shots/pieces';

/** The frames whose depth was made, counted from 1. */
const KEYS = [1, 24, 48];
/** Where the lantern hangs in two of them, px: the middle of its body. */
const LANTERN = [
  { frame: 1, x: 459, y: 187 },
  { frame: 48, x: 614, y: 187 },
];

/** Gives the drifting clip its depth at three frames, and its lantern as a plate: one step, that can be taken back. */
export async function finishDrift(shot: string, folder: string): Promise<void> {
  const { head, document } = await shotState(shot);
  const maps = await Promise.all(
    KEYS.map((n) => {
      const name = `depth_${String(n).padStart(4, '0')}.png`;
      return readDepthFile(join(folder, name), name, { whiteIsNear: true, mend: false });
    }),
  );
  const cuts = await Promise.all(LANTERN.map((at) => cutLantern(document.source, at, maps[KEYS.indexOf(at.frame)])));
  await changeShot(
    { id: shot, expectedHead: head, changeId: randomUUID() },
    'Depth at three frames, the lantern cut',
    async (em, current) => {
      const keys = [];
      for (const [n, map] of maps.entries())
        keys.push({ frame: KEYS[n] - 1, revision: (await storeMap(em, map)).id, marks: [], keptDepths: [] });
      const lantern: PlateKey[] = [];
      for (const { frame, choice, matte, depth } of cuts)
        lantern.push({
          frame: frame - 1,
          matte: (await storeMap(em, { ...matte, data: widened(matte.data) })).id,
          choice: await storeChoice(em, choice),
          depth: { revision: (await storeMap(em, depth.depth)).id, near: depth.near, far: depth.far },
        });
      const [{ matte, choice, depth }] = lantern;
      return {
        ...current,
        depth: { ...current.depth, revision: keys[0].revision },
        plates: [{ ...begunPlate('Lantern'), matte, choice, depth, keys: lantern }],
        footage: { ...current.footage!, keys },
      };
    },
  );
}

/** Chooses the lantern by strokes, and cuts it out of a frame's depth. */
async function cutLantern(source: ShotDocument['source'], { frame, x, y }: (typeof LANTERN)[number], map: DepthMap) {
  const ring = (rx: number, ry: number) =>
    Array.from({ length: 25 }, (_, k) => {
      const turn = (k / 24) * 2 * Math.PI;
      return { x: Math.round(x + rx * Math.cos(turn)), y: Math.round(y + ry * Math.sin(turn)) };
    });
  const choice: Choice = {
    ingredients: [
      {
        kind: 'region',
        way: 'add',
        byDepth: true,
        strokes: [
          { side: 'in', size: 14, points: ring(14, 12) },
          { side: 'in', size: 2, points: [26, 36, 46, 58].map((down) => ({ x: x + 2, y: y + down })) },
          { side: 'out', size: 8, points: ring(44, 78) },
        ],
      },
    ],
    edge: { ...PLAIN_EDGE, solvePx: 4 },
  };
  const picture = await readRasterEightBits(await sourceRaster({ ...source, moment: frame - 1 }));
  const matte = new ChoiceMaker(picture).make(choice, map);
  return { frame, choice, matte, depth: cutDepth(map, { near: 1, far: 0 }, matte) };
}
