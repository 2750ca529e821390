import type { EntityManager } from '@mikro-orm/postgresql';
import { applyPatch, createPatch, type Operation } from 'rfc6902';
import type { Choice } from '@/core/matte/choice';
import type { ShotDocument } from '@/core/shot/document';
import { upgradeDocument } from '@/core/shot/document/upgrade';
import { query } from '../db/query';
import { nameOfChoice, storeChoice } from './choices';

/** A stored document in the newest version. What an older one held within itself is kept where it belongs now. */
export async function openDocument(em: EntityManager, stored: unknown): Promise<ShotDocument> {
  const choices: Choice[] = [];
  const document = upgradeDocument(stored, (choice) => {
    choices.push(choice);
    return nameOfChoice(choice);
  });
  for (const choice of choices) await storeChoice(em, choice);
  return document;
}

/** What a change has changed, as a JSON Patch (RFC 6902). */
export const changesOf = (was: ShotDocument, now: ShotDocument): Operation[] => createPatch(was, now);

interface Stored {
  readonly document: unknown;
  readonly patch: Operation[] | null;
}

/** Walks from an entry back to the first that keeps its document whole, or further. */
const WAY_BACK = (stops: string): string =>
  `with recursive way as (
     select id, parent_id, label, created_at, document, patch, 0 as n from history_entry where id = $1
     union all
     select e.id, e.parent_id, e.label, e.created_at, e.document, e.patch, way.n + 1
     from history_entry e join way on e.id = way.parent_id where ${stops})
   select id, label, created_at, document, patch from way order by n desc`;

interface Entry extends Stored {
  readonly id: number;
  readonly label: string;
  readonly created_at: Date;
}

/** A document with one entry's change made, in place. */
async function following(em: EntityManager, document: ShotDocument, { id, patch }: Entry): Promise<ShotDocument> {
  const failed = applyPatch(document, patch ?? []).find((error) => error !== null);
  if (failed) throw new Error(`Entry ${id} of the history cannot be read: ${failed.message}`);
  // A change of before may have brought in a plate without what plates have today.
  return openDocument(em, document);
}

/** The document as it was after one entry of the history: from the nearest entry before it that keeps it whole. */
export async function documentAt(em: EntityManager, entry: number): Promise<ShotDocument> {
  const [whole, ...changes] = await query<Entry>(em, WAY_BACK('way.document is null'), [entry]);
  if (!whole?.document) throw new Error(`The history of entry ${entry} does not lead to a whole document.`);
  let document = structuredClone(await openDocument(em, whole.document));
  for (const change of changes) document = await following(em, document, change);
  return document;
}

/** One entry of the history, and the document as it was after it. */
export interface HistoryStep {
  readonly entry: number;
  readonly label: string;
  readonly at: Date;
  readonly document: ShotDocument;
}

/** The way to an entry, oldest first: at least so many steps where there are as many. */
export async function stepsOf(em: EntityManager, entry: number, atLeast: number): Promise<HistoryStep[]> {
  const rows = await query<Entry>(em, WAY_BACK('way.document is null or way.n < $2'), [entry, atLeast]);
  const steps: HistoryStep[] = [];
  let document: ShotDocument | undefined;
  for (const row of rows) {
    if (row.document) document = structuredClone(await openDocument(em, row.document));
    else if (document) document = await following(em, structuredClone(document), row);
    if (document) steps.push({ entry: row.id, label: row.label, at: new Date(row.created_at), document });
  }
  return steps;
}
