import type { DepthMap } from '@/core/raster/picture';
import { Project } from '../db/entities';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { unpackIncoming } from '../media/decode';
import { inspectPicture } from '../media/inspect';
import { storeFile } from '../media/store';
import { isMoving } from '../media/footage/isMoving';
import { bringFootage } from './bringFootage';
import { createShot } from './shots';

/**
 * Makes a shot of a picture file (or of one of moving pictures): checked by its header, decoded once to prove it
 * whole, stored unchanged. Returns the
 * shot's id. @throws Problem what is wrong with the file
 */
export async function bringIn(
  projectId: string,
  path: string,
  fileName: string,
  { name, depth }: { readonly name?: string; readonly depth?: DepthMap } = {},
): Promise<string> {
  if (!depth && (await isMoving(path))) return bringFootage(projectId, path, fileName, name);
  const header = await inspectPicture(path, fileName);
  const raster = await unpackIncoming(path, header, fileName);
  try {
    return await inTransaction(async (em) => {
      if (!(await em.findOne(Project, { id: projectId, putAwayAt: null }))) throw Problem.notFound('This project');
      const media = await storeFile(em, path, fileName, `image/${header.format}`);
      const { width, height, bits, hasAlpha, told: notes } = header;
      const shot = await createShot(em, {
        projectId,
        name: name ?? fileName.replace(/\.[^.]+$/, ''),
        source: { mediaId: media.id, fileName, width, height, bits, hasAlpha, told: notes },
        focalPx: header.focalPx ?? null,
        ...(depth ? { depth } : {}),
      });
      await raster.takeName(media.id);
      return shot;
    });
  } finally {
    await raster.end();
  }
}
