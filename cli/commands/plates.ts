import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { CoreError } from '@/core/error';
import { writePlates } from '@/server/media/writePlates';
import { needed, readWords } from '../words';

/** Hands out a stored shot's plates as a folder: plates.json, and picture, matte, depth and fill of each. */
export async function plates(words: readonly string[]): Promise<void> {
  const given = readWords(words, { shot: { type: 'string' }, out: { type: 'string' } });
  const id = needed('shot', given.shot);
  const out = needed('out', given.out);
  // The running house says where its database is; another one is named by CORK_DATABASE_URL.
  const note = join(process.env.CORK_DATA ?? '.data', 'database');
  if (!process.env.CORK_DATABASE_URL) {
    if (!existsSync(note))
      throw new CoreError(
        'no-house',
        `No running house was found (${note} does not exist). Start one with bin/start, or set CORK_DATABASE_URL.`,
      );
    process.env.CORK_DATABASE_URL = readFileSync(note, 'utf8').trim();
  }
  if (!/^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i.test(id))
    throw new CoreError('no-shot', `'${id}' is no shot’s id. It stands in the shot’s address, behind /shots/.`);
  const { openOrm } = await import('@/server/db/orm');
  try {
    const { shotState } = await import('@/server/shots/history');
    const { storedShot } = await import('@/server/shots/platePixels');
    const { document, name } = await shotState(id);
    await writePlates(out, await storedShot(document, name));
  } finally {
    await (await openOrm()).close();
  }
}
