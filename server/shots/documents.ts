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

/** The document as it was after one entry of the history: from the nearest entry before it that keeps it whole. */
export async function documentAt(em: EntityManager, entry: number): Promise<ShotDocument> {
  const rows = await query<Stored>(
    em,
    `with recursive way as (
       select parent_id, document, patch, 0 as n from history_entry where id = $1
       union all
       select e.parent_id, e.document, e.patch, way.n + 1 from history_entry e join way on e.id = way.parent_id where way.document is null)
     select document, patch from way order by n desc`,
    [entry],
  );
  const [whole, ...changes] = rows;
  if (!whole?.document) throw new Error(`The history of entry ${entry} does not lead to a whole document.`);
  let document = structuredClone(await openDocument(em, whole.document));
  for (const { patch } of changes) {
    const failed = applyPatch(document, patch ?? []).find((error) => error !== null);
    if (failed) throw new Error(`Entry ${entry} of the history cannot be read: ${failed.message}`);
    // A change of before may have brought in a plate without what plates have today.
    document = await openDocument(em, document);
  }
  return document;
}
