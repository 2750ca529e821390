import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { CoreError } from '@/core/error';
import type { ShotState } from '@/server/shots/history';

/** Does something with a stored shot of the running house. @throws CoreError `no-house`, `no-shot` */
export async function withShot(id: string, act: (shot: ShotState) => Promise<void>): Promise<void> {
  // The running house says where its database is; another one is named by CORK_DATABASE_URL.
  const data = process.env.CORK_DATA ?? '.data';
  const note = join(data, 'database');
  // What the house has carried and unpacked lies beside it.
  process.env.CORK_CACHE_DIR ??= join(data, 'cache');
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
    await act(await shotState(id));
  } finally {
    await (await openOrm()).close();
  }
}
