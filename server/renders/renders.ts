import { randomUUID } from 'node:crypto';
import { makerOf, recipeSchema, type Recipe } from '@/core/recipes';
import { handedSize } from '@/core/shot/document';
import { Render, Shot, type RenderReport } from '../db/entities';
import { database, inTransaction } from '../db/orm';
import { query } from '../db/query';
import { atMoment } from '@/core/shot/atMoment';
import { carriedIsThere } from '../shots/carriedRasters';
import { Problem } from '../http/problem';
import { openDocument } from '../shots/documents';
import { dropPieces, leavePieces } from './pieces';
import { enqueue, sender } from './queue';

/** A render as the page sees it. */
export interface RenderSummary {
  readonly id: string;
  readonly recipe: Recipe;
  readonly state: Render['state'];
  /** 0 to 1. */
  readonly progress: number;
  readonly step: string;
  readonly error: string | null;
  readonly createdAt: string;
  readonly startedAt: string | null;
  readonly finishedAt: string | null;
  readonly report: RenderReport | null;
  readonly outputs: readonly {
    readonly n: number;
    readonly name: string;
    readonly size: number;
    readonly mime: string;
  }[];
}

/** Takes a render on: the document as it is now is kept with it, so later changes do not reach it. */
/** @param moment the frame of footage that stills are made of */
export async function startRender(shotId: string, given: unknown, moment = 0): Promise<string> {
  const recipe = recipeSchema.parse(given);
  const em = await database();
  const shot = await em.findOne(Shot, { id: shotId });
  if (!shot) throw Problem.notFound('This shot');
  // Says at once what would fail later.
  const document = await openDocument(em, shot.document);
  makerOf(recipe).size(recipe, handedSize(document));
  const render = em.create(Render, {
    id: randomUUID(),
    shotId,
    recipe,
    document: document.footage ? atMoment(document, moment, carriedIsThere) : shot.document,
    state: 'queued',
    progress: 0,
    step: 'Waiting for a render worker',
    error: null,
    stopRequested: false,
    worker: null,
    heartbeatAt: null,
    createdAt: new Date(),
    startedAt: null,
    finishedAt: null,
    report: null,
  });
  await em.persistAndFlush(render);
  await enqueue(await sender(), render.id);
  return render.id;
}

export async function listRenders(shotId: string): Promise<RenderSummary[]> {
  const em = await database();
  const renders = await em.find(Render, { shotId }, { orderBy: { createdAt: 'desc' }, limit: 200 });
  if (renders.length === 0) return [];
  const outputs = await query<{ render_id: string; n: number; name: string; size: string; mime: string }>(
    em,
    `select o.render_id, o.n, o.name, m.size, m.mime from render_output o join media m on m.id = o.media_id
     where o.render_id = any($1::uuid[]) order by o.n`,
    [renders.map((r) => r.id)],
  );
  return renders.map((r) => ({
    id: r.id,
    recipe: r.recipe,
    state: r.state,
    progress: r.progress,
    step: r.step,
    error: r.error ?? null,
    createdAt: r.createdAt.toISOString(),
    startedAt: r.startedAt?.toISOString() ?? null,
    finishedAt: r.finishedAt?.toISOString() ?? null,
    report: r.report ?? null,
    outputs: outputs
      .filter((o) => o.render_id === r.id)
      .map((o) => ({ n: o.n, name: o.name, size: Number(o.size), mime: o.mime })),
  }));
}

/** stop: asks the worker to end it; retry: queues it again as it was; remove: takes it from the list with its files. */
export async function actOnRender(id: string, action: 'stop' | 'retry' | 'remove'): Promise<void> {
  await inTransaction(async (em) => {
    const render = await em.findOne(Render, { id });
    if (!render) throw Problem.notFound('This render');
    const ended = render.state === 'done' || render.state === 'failed' || render.state === 'stopped';
    if (action === 'stop') {
      if (ended) return;
      if (render.state === 'queued')
        Object.assign(render, { state: 'stopped', step: 'Stopped', finishedAt: new Date() });
      render.stopRequested = true;
    } else if (action === 'retry') {
      if (!ended)
        throw new Problem(409, 'still-running', 'This render has not ended yet. Stop it before trying again.');
      await leavePieces(em, id);
      Object.assign(render, {
        state: 'queued',
        progress: 0,
        step: 'Waiting for a render worker',
        error: null,
        stopRequested: false,
        worker: null,
        startedAt: null,
        finishedAt: null,
      });
    } else {
      if (!ended) throw new Problem(409, 'still-running', 'This render has not ended yet. Stop it before removing it.');
      const media = await query<{ media_id: string }>(
        em,
        'delete from render_output where render_id = $1 returning media_id',
        [id],
      );
      for (const { media_id } of media) await query(em, 'delete from media where id = $1', [media_id]);
      await dropPieces(em, id);
      em.remove(render);
    }
    await em.flush();
  });
  if (action === 'retry') await enqueue(await sender(), id);
}

export interface OutputFile {
  readonly n: number;
  readonly name: string;
  readonly mediaId: string;
  readonly size: number;
  readonly mime: string;
}

export async function renderOutputs(id: string): Promise<OutputFile[]> {
  const em = await database();
  const rows = await query<{ n: number; name: string; media_id: string; size: string; mime: string }>(
    em,
    `select o.n, o.name, o.media_id, m.size, m.mime from render_output o join media m on m.id = o.media_id
     where o.render_id = $1 order by o.n`,
    [id],
  );
  return rows.map((r) => ({ n: r.n, name: r.name, mediaId: r.media_id, size: Number(r.size), mime: r.mime }));
}
