import { join } from 'node:path';
import { Project } from '@/server/db/entities';
import { database } from '@/server/db/orm';
import { readDepthFile } from '@/server/media/depthFile';
import { bringIn } from '@/server/shots/bringIn';
import { createProject } from '@/server/shots/desk';
import { finishDrift } from './drift';
import { finishOrangery } from './orangery';

const SHOTS = [
  { folder: 'orangery', name: 'Orangery' },
  { folder: 'lantern', name: 'Column and lantern' },
];

/** Puts the demo project into an empty house; does nothing in one that has any project. */
export async function seedDemo(root: string): Promise<boolean> {
  const em = await database();
  if ((await em.count(Project)) > 0) return false;
  const project = await createProject('Winter catalogue');
  for (const { folder, name } of SHOTS) {
    const at = join(root, 'demo', folder);
    const depth = await readDepthFile(join(at, 'depth16.png'), 'depth16.png', { whiteIsNear: true, mend: false });
    const shot = await bringIn(project, join(at, 'centre.png'), `${folder}.png`, { name, depth });
    if (folder === 'orangery') await finishOrangery(shot, at, depth);
  }
  const drift = join(root, 'demo', 'drift');
  await finishDrift(await bringIn(project, join(drift, 'clip.mp4'), 'drift.mp4', { name: 'Lantern drift' }), drift);
  return true;
}
