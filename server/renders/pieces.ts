import type { EntityManager } from '@mikro-orm/postgresql';
import { database, inTransaction } from '../db/orm';
import { query } from '../db/query';
import { storeFile } from '../media/store';

/** Frames of one piece of a video. Pieces begin at the same frames whoever makes them, so that a video is always the same. */
export const PIECE_FRAMES = 24;
/** A piece whose worker has said nothing for this long is made by another, ms: a frame may take long. */
const SILENT_MS = 30_000;

/** How many frames each piece of a video has. */
export const pieceLengths = (frames: number): number[] =>
  Array.from({ length: Math.ceil(frames / PIECE_FRAMES) }, (_, n) => Math.min(PIECE_FRAMES, frames - n * PIECE_FRAMES));

/** Writes down which pieces a render has, once. */
export async function planPieces(renderId: string, frames: number): Promise<void> {
  await query(
    await database(),
    `insert into render_piece (render_id, n, frames)
     select $1, i - 1, f from unnest($2::int[]) with ordinality as p (f, i) on conflict do nothing`,
    [renderId, pieceLengths(frames)],
  );
}

/** Gives a worker a piece that nobody makes, or whose worker has fallen silent; undefined where there is none. */
export async function takePiece(renderId: string, worker: string): Promise<number | undefined> {
  const rows = await query<{ n: number }>(
    await database(),
    `update render_piece set worker = $2, beat_at = now(), done = 0
     where render_id = $1 and n = (select n from render_piece
       where render_id = $1 and not whole
         and (worker is null or worker = $2 or beat_at < now() - make_interval(secs => $3))
       order by n limit 1 for update skip locked) returning n`,
    [renderId, worker, SILENT_MS / 1000],
  );
  return rows[0]?.n;
}

/** How far a video is. */
export interface PieceState {
  /** Frames that are made, of all. */
  readonly done: number;
  /** Pieces that are not whole. */
  readonly missing: number;
  /** The render is at work still, and shall go on. */
  readonly running: boolean;
}

/** How a video stands. */
export async function pieceState(renderId: string): Promise<PieceState> {
  const [row] = await query<{ done: string | null; missing: string; running: boolean | null }>(
    await database(),
    `select sum(case when whole then frames else done end) as done,
       count(*) filter (where not whole) as missing,
       (select state = 'running' and not stop_requested from render where id = $1) as running
     from render_piece where render_id = $1`,
    [renderId],
  );
  return { done: Number(row.done ?? 0), missing: Number(row.missing), running: row.running === true };
}

/** Says how many frames of a piece a worker has made, and hears how the whole stands. */
export async function tellPiece(
  renderId: string,
  { n, worker, done }: { readonly n: number; readonly worker: string; readonly done: number },
): Promise<PieceState> {
  await query(
    await database(),
    'update render_piece set beat_at = now(), done = $4 where render_id = $1 and n = $2 and worker = $3',
    [renderId, n, worker, done],
  );
  return pieceState(renderId);
}

/**
 * A piece is whole; its file is stored unless another worker was faster. One transaction.
 * @param path undefined where its frames are stored already, each by itself
 */
export async function storePiece(renderId: string, n: number, path: string | undefined): Promise<void> {
  await inTransaction(async (em) => {
    const which = [renderId, n];
    const open = await query(
      em,
      'select 1 from render_piece where render_id = $1 and n = $2 and not whole for update',
      which,
    );
    if (open.length === 0) return;
    const media = path && (await storeFile(em, path, `piece-${n}`, 'application/octet-stream'));
    await query(em, 'update render_piece set whole = true, media_id = $3 where render_id = $1 and n = $2', [
      ...which,
      media ? media.id : null,
    ]);
  });
}

/** Pieces that were in work are nobody's: whoever made them was stopped. */
export async function leavePieces(em: EntityManager, renderId: string): Promise<void> {
  await query(em, 'update render_piece set worker = null, done = 0 where render_id = $1 and not whole', [renderId]);
}

/** A worker gives up the piece that it makes. */
export async function releasePieces(renderId: string, worker: string): Promise<void> {
  await query(
    await database(),
    'update render_piece set worker = null, done = 0 where render_id = $1 and worker = $2 and not whole',
    [renderId, worker],
  );
}

/** A render's pieces in their order: their files and how many frames they have. */
export async function storedPieces(renderId: string): Promise<{ readonly mediaId: string; readonly frames: number }[]> {
  const rows = await query<{ media_id: string; frames: number }>(
    await database(),
    'select media_id, frames from render_piece where render_id = $1 and media_id is not null order by n',
    [renderId],
  );
  return rows.map(({ media_id: mediaId, frames }) => ({ mediaId, frames }));
}

/** Takes a render's pieces away. */
export async function dropPieces(em: EntityManager, renderId: string): Promise<void> {
  const rows = await query<{ media_id: string | null }>(
    em,
    'delete from render_piece where render_id = $1 returning media_id',
    [renderId],
  );
  for (const { media_id } of rows) if (media_id) await query(em, 'delete from media where id = $1', [media_id]);
}

/** Whether a render is at work and has a piece that nobody makes. */
export async function needsHelp(renderId: string): Promise<boolean> {
  const rows = await query(
    await database(),
    `select 1 from render r join render_piece p on p.render_id = r.id
     where r.id = $1 and r.state = 'running' and not r.stop_requested and not p.whole and p.worker is null limit 1`,
    [renderId],
  );
  return rows.length > 0;
}

/** Whether a render waits that nobody has begun. */
export async function othersWait(): Promise<boolean> {
  return (await query(await database(), "select 1 from render where state = 'queued' limit 1")).length > 0;
}
