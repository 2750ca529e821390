import type { EntityManager } from '@mikro-orm/postgresql';
import { atMoment, storedMoment } from '@/core/shot/atMoment';
import type { ShotDocument } from '@/core/shot/document';
import { database, inTransaction } from '../db/orm';
import { carriedIsThere } from './carriedRasters';
import { query } from '../db/query';
import { Problem } from '../http/problem';
import { changesOf, documentAt, openDocument } from './documents';

/** What the page needs to know of a shot. */
export interface ShotState {
  readonly id: string;
  readonly projectId: string;
  readonly name: string;
  readonly head: number;
  readonly document: ShotDocument;
  /** What undo would take back and redo bring back; null where there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
  readonly changedAt: string;
}

/** Which shot a change is made to, the head it builds on, and its own id: sent again, it is stored once. */
export interface ShotAt {
  readonly id: string;
  readonly expectedHead: number;
  readonly changeId?: string;
  /** The frame of footage that it is made at, from 0. @default the first */
  readonly moment?: number;
}

/** Every so many entries the history keeps the whole document, so that none is far from one. */
const WHOLE_EVERY = 50;

interface LockedRow {
  readonly id: string;
  readonly project_id: string;
  readonly name: string;
  readonly head_id: number;
  readonly document: unknown;
  /** How many entries the head stands away from one that keeps the whole document. */
  readonly since: number;
}

interface ShotRow extends Omit<LockedRow, 'since'> {
  readonly changed_at: Date;
  readonly label: string;
  readonly parent_id: number | null;
}

const SHOT = `select s.id, s.project_id, s.name, s.head_id, s.document, s.changed_at, h.label, h.parent_id
  from shot s join history_entry h on h.id = s.head_id where s.id = $1`;

async function shotRow(em: EntityManager, id: string): Promise<ShotRow> {
  const [row] = await query<ShotRow>(em, SHOT, [id]);
  if (!row) throw Problem.notFound('This shot');
  return row;
}

/**
 * A shot that nobody else changes until this transaction ends, without its entry of the history: a statement that
 * waits for the lock goes
 * on with the shot's new head but still sees the entries of before, and among them not that head.
 */
async function lockedShot(em: EntityManager, id: string): Promise<LockedRow> {
  const [row] = await query<LockedRow>(
    em,
    'select id, project_id, name, head_id, document, since from shot where id = $1 for update',
    [id],
  );
  if (!row) throw Problem.notFound('This shot');
  return row;
}

/** What redo would bring back: the newest entry that builds on one. */
async function redoOf(
  em: EntityManager,
  id: string,
  entry: number,
): Promise<{ id: number; label: string } | undefined> {
  const [next] = await query<{ id: number; label: string }>(
    em,
    'select id, label from history_entry where shot_id = $1 and parent_id = $2 order by id desc limit 1',
    [id, entry],
  );
  return next;
}

/** What an entry builds on; undefined for the first. */
async function parentOf(em: EntityManager, entry: number): Promise<number | undefined> {
  const [row] = await query<{ parent_id: number | null }>(em, 'select parent_id from history_entry where id = $1', [
    entry,
  ]);
  return row.parent_id ?? undefined;
}

/** @param moment the frame of footage at which its document is to stand */
export async function shotState(id: string, moment = 0): Promise<ShotState> {
  const em = await database();
  const row = await shotRow(em, id);
  return {
    id,
    projectId: row.project_id,
    name: row.name,
    head: row.head_id,
    document: atMoment(await openDocument(em, row.document), moment, carriedIsThere),
    undo: row.parent_id === null ? null : row.label,
    redo: (await redoOf(em, id, row.head_id))?.label ?? null,
    changedAt: new Date(row.changed_at).toISOString(),
  };
}

/**
 * A shot's document at the frame that a change is made at, where it still stands at the head that a change builds on.
 * @throws Problem 409 `moved-on`
 */
export async function documentOf({ id, expectedHead, moment = 0 }: ShotAt): Promise<ShotDocument> {
  const { document, head } = await shotState(id, moment);
  if (head !== expectedHead) throw Problem.movedOn(head);
  return document;
}

/** What a step of the history gives: the document as it then is, and what the page is told beside it. */
export interface Changed {
  readonly document: ShotDocument;
  readonly answer?: Readonly<Record<string, unknown>>;
}

/**
 * One step of a shot's history in one transaction: the shot is locked where it stands, changed, and the step appended.
 * @param label what the step is called
 * @param change gives the document as it shall be
 * @param fits says of a document that has moved on meanwhile whether the change may be made to it all the same
 * @default it may not
 * @throws Problem 409 `moved-on` where another window was faster; what `change` throws
 */
export function changeShot(
  at: ShotAt,
  label: string | ((document: ShotDocument) => string),
  change: (em: EntityManager, document: ShotDocument) => Promise<ShotDocument | Changed>,
  { fits }: { readonly fits?: (document: ShotDocument) => boolean } = {},
): Promise<ShotState> {
  return inTransaction(async (em) => {
    const row = await lockedShot(em, at.id);
    const was = await openDocument(em, row.document);
    const seen = atMoment(was, at.moment ?? 0, carriedIsThere);
    if (row.head_id !== at.expectedHead && !fits?.(seen)) throw Problem.movedOn(row.head_id);
    const name = typeof label === 'string' ? label : label(seen);
    const made = await change(em, seen);
    const changed = 'document' in made ? made : { document: made };
    const document = storedMoment(seen, changed.document);
    return append(em, { row, was, label: name, changed: { ...changed, document }, at });
  });
}

interface Step {
  readonly row: LockedRow;
  readonly was: ShotDocument;
  readonly label: string;
  readonly changed: Changed;
  readonly at: ShotAt;
}

/** Appends a step: its entry, and the shot that stands at it, in one statement. */
async function append(em: EntityManager, { row, was, label, changed, at }: Step): Promise<ShotState> {
  const whole = row.since + 1 >= WHOLE_EVERY;
  const since = whole ? 0 : row.since + 1;
  const text = JSON.stringify(changed.document);
  const document = JSON.parse(text) as ShotDocument;
  const now = new Date();
  const [{ head_id: head }] = await query<{ head_id: number }>(
    em,
    `with entry as (
       insert into history_entry (shot_id, parent_id, label, document, patch, since, change_id, answer, created_at)
       values ($1, $2, $3, $4::jsonb, $5::jsonb, $6, $7, $8::jsonb, $9) returning id)
     update shot set head_id = (select id from entry), document = $10::jsonb, since = $6, changed_at = $9
       where id = $1 returning head_id`,
    [
      row.id,
      row.head_id,
      label,
      whole ? text : null,
      whole ? null : JSON.stringify(changesOf(was, document)),
      since,
      at.changeId ?? null,
      changed.answer ? JSON.stringify(changed.answer) : null,
      now,
      text,
    ],
  );
  return {
    id: row.id,
    projectId: row.project_id,
    name: row.name,
    head,
    document,
    undo: label,
    redo: null,
    changedAt: now.toISOString(),
    ...changed.answer,
  };
}

/**
 * Steps back to the parent of the head, or forward to its newest child. Entries stay for ever. @throws Problem
 * `nothing-there`
 */
export function moveInHistory(at: ShotAt, action: 'undo' | 'redo'): Promise<ShotState> {
  return inTransaction(async (em) => {
    const row = await lockedShot(em, at.id);
    if (row.head_id !== at.expectedHead) throw Problem.movedOn(row.head_id);
    const target = action === 'undo' ? await parentOf(em, row.head_id) : (await redoOf(em, at.id, row.head_id))?.id;
    if (target === undefined)
      throw new Problem(
        422,
        'nothing-there',
        action === 'undo' ? 'There is nothing to undo: this is how the shot began.' : 'There is nothing to redo.',
      );
    const document = await documentAt(em, target);
    await query(
      em,
      `update shot set head_id = $1, document = $2::jsonb, changed_at = $3,
         since = (select since from history_entry where id = $1)
       where id = $4`,
      [target, JSON.stringify(document), new Date(), at.id],
    );
    if (at.changeId)
      await query(em, 'insert into history_move (change_id, shot_id, head_id, created_at) values ($1, $2, $3, now())', [
        at.changeId,
        at.id,
        target,
      ]);
    return stateAt(em, at.id, target);
  });
}

/** A shot as it stood at one entry of its history. */
async function stateAt(em: EntityManager, id: string, head: number): Promise<ShotState> {
  const row = await shotRow(em, id);
  const [entry] = await query<{
    label: string;
    parent_id: number | null;
    answer: Record<string, unknown> | null;
    created_at: Date;
  }>(em, 'select label, parent_id, answer, created_at from history_entry where id = $1', [head]);
  return {
    id,
    projectId: row.project_id,
    name: row.name,
    head,
    document: await documentAt(em, head),
    undo: entry.parent_id === null ? null : entry.label,
    redo: (await redoOf(em, id, head))?.label ?? null,
    changedAt: new Date(row.head_id === head ? row.changed_at : entry.created_at).toISOString(),
    ...entry.answer,
  };
}

/** Changes that are being made just now, by their ids. */
const kept = globalThis as typeof globalThis & { corkChanges?: Map<string, Promise<ShotState>> };

/**
 * Makes a change exactly once: one that is sent again, because its answer was lost, gets the answer of the first time,
 * also while that
 * is still being worked on.
 */
export function once<State extends ShotState>(at: ShotAt, work: () => Promise<State>): Promise<State> {
  const { changeId } = at;
  if (changeId === undefined) return work();
  const changes = (kept.corkChanges ??= new Map<string, Promise<ShotState>>());
  const running = changes.get(changeId) as Promise<State> | undefined;
  if (running) return running;
  const done = work().catch(async (error: unknown) => {
    // What cannot be made any more may be made already: the head has moved on by this very change, or its id is taken.
    const known = await answerOf(at).catch(() => undefined);
    if (known) return known as State;
    throw error;
  });
  const forgotten = done.finally(() => changes.delete(changeId));
  forgotten.catch(() => undefined);
  changes.set(changeId, done);
  return done;
}

/** What a change that is stored answered; undefined where none of this id is. */
async function answerOf({ id, changeId }: ShotAt): Promise<ShotState | undefined> {
  const em = await database();
  const [stored] = await query<{ head: number }>(
    em,
    `select id as head from history_entry where change_id = $1 and shot_id = $2
     union all select head_id as head from history_move where change_id = $1 and shot_id = $2`,
    [changeId, id],
  );
  return stored && stateAt(em, id, stored.head);
}
