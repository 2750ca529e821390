import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { rename, unlink } from 'node:fs/promises';
import type { DepthMap } from '@/core/raster/picture';
import { Project } from '../db/entities';
import { inTransaction } from '../db/orm';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { decodeToRaster, prepareHalved } from '../media/decode';
import { inspectPicture } from '../media/inspect';
import { storeFile } from '../media/store';
import { createShot } from './shots';

/**
 * Makes a shot of a picture file: checked by its header, decoded once to prove it whole, stored unchanged. Returns the
 * shot's id. @throws Problem what is wrong with the file
 */
export async function bringIn(
  projectId: string,
  path: string,
  fileName: string,
  { name, depth }: { readonly name?: string; readonly depth?: DepthMap } = {},
): Promise<string> {
  const header = await inspectPicture(path, fileName);
  const raster = join(cacheDir('source'), `incoming-${randomUUID()}.v`);
  try {
    await decodeToRaster(path, raster, header.bits, fileName);
    const { shot, stored } = await inTransaction(async (em) => {
      if (!(await em.findOne(Project, { id: projectId, putAwayAt: null }))) throw Problem.notFound('This project');
      const media = await storeFile(em, path, fileName, `image/${header.format}`);
      const { width, height, bits, hasAlpha, told: notes } = header;
      const shot = await createShot(em, {
        projectId,
        name: name ?? fileName.replace(/\.[^.]+$/, ''),
        source: { mediaId: media.id, fileName, width, height, bits, hasAlpha, told: notes },
        ...(depth ? { depth } : {}),
      });
      await rename(raster, join(cacheDir('source'), `${media.id}.v`));
      return { shot, stored: { mediaId: media.id, bits, fileName } };
    });
    prepareHalved(stored, header);
    return shot;
  } finally {
    await unlink(raster).catch(() => undefined);
  }
}
