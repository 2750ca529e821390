import { randomUUID } from 'node:crypto';
import { copyFile, link, rename } from 'node:fs/promises';
import { cacheDir } from '../config';
import { Project } from '../db/entities';
import { inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { footagePath, openFootageFile } from '../media/footage/openFootage';
import { proxyState } from '../media/footage/proxies';
import { storeFile } from '../media/store';
import { createShot } from './shots';

const MIMES: Readonly<Record<string, string>> = {
  ...{ mp4: 'video/mp4', m4v: 'video/mp4', mov: 'video/quicktime', webm: 'video/webm', mkv: 'video/x-matroska' },
  ...{ avi: 'video/x-msvideo', gif: 'image/gif', png: 'image/apng', webp: 'image/webp', zip: 'application/zip' },
};

/**
 * Makes a shot of a file of moving pictures: what it says of itself is checked, its first frame decoded, the file
 * stored unchanged. Small
 * pictures of all frames are made in the background. Returns the shot's id. @throws Problem what is wrong with the file
 */
export async function bringFootage(projectId: string, path: string, fileName: string, name?: string): Promise<string> {
  const file = await openFootageFile(path, fileName);
  const { width, height, bits, hasAlpha, rate, shows, sound, told: notes } = file.info;
  if (shows.length < 2)
    throw new Problem(
      422,
      'one-picture',
      `${fileName} holds one picture. A still is brought in as PNG, JPEG, WebP, AVIF or TIFF: save it as one of these.`,
    );
  // The first frame must be there; what is damaged later is found while the small pictures are made.
  for await (const first of file.frames(0, 1))
    if (first.width !== width || first.height !== height) throw new Error('A frame has another size than its file.');
  const { shot, mediaId } = await inTransaction(async (em) => {
    if (!(await em.findOne(Project, { id: projectId, putAwayAt: null }))) throw Problem.notFound('This project');
    const ending = fileName.split('.').pop()?.toLowerCase() ?? '';
    const media = await storeFile(em, path, fileName, MIMES[ending] ?? 'application/octet-stream');
    const source = { mediaId: media.id, fileName, width, height, bits, hasAlpha, told: notes.slice(0, 400), moment: 0 };
    return {
      mediaId: media.id,
      shot: await createShot(em, {
        projectId,
        name: name ?? fileName.replace(/\.[^.]+$/, ''),
        source,
        footage: { frames: shows.length, rate, sound, range: null, keys: [], fills: [], script: [], markers: [] },
      }),
    };
  });
  // The file is here already: it need not be fetched from the database. What has just arrived gets a second name,
  // which costs nothing.
  const keep = path.startsWith(cacheDir('incoming')) ? link : copyFile;
  const part = `${footagePath(mediaId)}.${randomUUID()}.part`;
  await keep(path, part)
    .then(() => rename(part, footagePath(mediaId)))
    .catch(() => undefined);
  await proxyState({ mediaId, fileName });
  return shot;
}
