import { stat } from 'node:fs/promises';
import { inTransaction } from '../db/orm';
import { query } from '../db/query';
import { storeFile } from '../media/store';

/** A file of a render. */
export interface Output {
  readonly name: string;
  readonly mime: string;
  /** In the render's list. @default the next */
  readonly place?: number;
}

/**
 * Stores a file of a render and its place in the list, once. One transaction: both, or nothing.
 * @throws Error where the file is empty
 */
export async function storeOutput(renderId: string, path: string, { name, mime, place }: Output): Promise<void> {
  if ((await stat(path)).size === 0) throw new Error(`${name} came out empty.`);
  await inTransaction(async (em) => {
    // Another worker may be storing the same one: it is waited for.
    await query(em, 'select pg_advisory_xact_lock(hashtextextended($1, 0))', [`${renderId} ${name}`]);
    const there = await query(em, 'select 1 from render_output where render_id = $1 and name = $2', [renderId, name]);
    if (there.length > 0) return;
    const media = await storeFile(em, path, name, mime);
    await query(
      em,
      `insert into render_output (render_id, n, name, media_id)
         select $1::uuid, coalesce($4::int, max(n) + 1, 0), $2::text, $3::uuid from render_output where render_id = $1`,
      [renderId, name, media.id, place ?? null],
    );
  });
}
