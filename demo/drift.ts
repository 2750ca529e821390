import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { readDepthFile } from '@/server/media/depthFile';
import { storeMap } from '@/server/rasters/revisions';
import { changeShot, shotState } from '@/server/shots/history';

/** The frames whose depth was made, counted from 1. */
const KEYS = [1, 24, 48];

/** Gives the drifting clip its depth at three frames: one step, that can be taken back. */
export async function finishDrift(shot: string, folder: string): Promise<void> {
  const { head } = await shotState(shot);
  const maps = await Promise.all(
    KEYS.map((n) => {
      const name = `depth_${String(n).padStart(4, '0')}.png`;
      return readDepthFile(join(folder, name), name, { whiteIsNear: true, mend: false });
    }),
  );
  await changeShot(
    { id: shot, expectedHead: head, changeId: randomUUID() },
    'Depth at three frames',
    async (em, document) => {
      const keys = [];
      for (const [n, map] of maps.entries())
        keys.push({
          frame: KEYS[n] - 1,
          revision: (await storeMap(em, map)).id,
          behind: null,
          marks: [],
          keptDepths: [],
        });
      return {
        ...document,
        depth: { ...document.depth, revision: keys[0].revision },
        footage: { ...document.footage!, keys },
      };
    },
  );
}
