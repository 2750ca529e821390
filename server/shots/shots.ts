import { editLabel, type DepthEdit } from '@/core/depth/edits';
import { randomUUID } from 'node:crypto';
import { LockMode } from '@mikro-orm/core';
import equal from 'fast-deep-equal';
import type { EntityManager } from '@mikro-orm/postgresql';
import { newDocument, patchDocument, type DocumentPatch, type ShotDocument } from '@/core/shot/document';
import type { DepthMap } from '@/core/raster/picture';
import { depthOf } from '@/core/stereo/parallax';
import { HistoryEntry, Shot } from '../db/entities';
import { database, inTransaction } from '../db/orm';
import { Problem } from '../http/problem';
import { followPlacement } from './pieces';
import { plateOf, requireUnlocked } from './plateList';
import { applyEdit, loadRevision, storeFlat, storeMap } from '../rasters/tiles';

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

/** Stores a new shot whose source is already stored; its depth begins flat on the screen plane. */
export async function createShot(
  em: EntityManager,
  projectId: string,
  name: string,
  source: ShotDocument['source'],
  depth?: DepthMap,
): Promise<string> {
  const begun = newDocument(source, randomUUID());
  const flat = Math.round(Math.min(1, Math.max(0, depthOf(0, begun.budget))) * 65535);
  const revision = depth ? await storeMap(em, depth) : await storeFlat(em, source.width, source.height, flat);
  const document: ShotDocument = { ...begun, depth: { ...begun.depth, revision: revision.id } };
  const now = new Date();
  const shot = em.create(Shot, {
    id: randomUUID(),
    projectId,
    name,
    document,
    headId: 0,
    createdAt: now,
    changedAt: now,
    putAwayAt: null,
  });
  await em.persistAndFlush(shot);
  const entry = em.create(HistoryEntry, {
    shotId: shot.id,
    parentId: null,
    label: 'Brought in',
    document,
    createdAt: now,
  });
  await em.persistAndFlush(entry);
  shot.headId = entry.id;
  await em.flush();
  return shot.id;
}

export async function shotState(id: string): Promise<ShotState> {
  return stateOf(await database(), id);
}

async function stateOf(em: EntityManager, id: string): Promise<ShotState> {
  const shot = await em.findOne(Shot, { id });
  if (!shot) throw Problem.notFound('This shot');
  const head = await em.findOneOrFail(HistoryEntry, { id: shot.headId });
  const next = await em.findOne(HistoryEntry, { shotId: id, parentId: head.id }, { orderBy: { id: 'desc' } });
  return {
    id,
    projectId: shot.projectId,
    name: shot.name,
    head: shot.headId,
    document: shot.document,
    undo: head.parentId === null ? null : head.label,
    redo: next?.label ?? null,
    changedAt: shot.changedAt.toISOString(),
  };
}

/**
 * Locks a shot and makes sure that it still stands where the page believes it to stand.
 * @throws Problem 409 `moved-on` where another tab was faster
 */
async function lockAt(em: EntityManager, id: string, expectedHead: number): Promise<Shot> {
  const shot = await em.findOne(Shot, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
  if (!shot) throw Problem.notFound('This shot');
  if (shot.headId !== expectedHead) throw Problem.movedOn(shot.headId);
  return shot;
}

async function append(em: EntityManager, shot: Shot, label: string, document: ShotDocument): Promise<void> {
  const now = new Date();
  const entry = em.create(HistoryEntry, { shotId: shot.id, parentId: shot.headId, label, document, createdAt: now });
  await em.persistAndFlush(entry);
  shot.headId = entry.id;
  shot.document = document;
  shot.changedAt = now;
  await em.flush();
}

/** One step of a shot's history in one transaction: the shot is locked where it stands, changed, and the step appended. */
export function changeShot(
  id: string,
  expectedHead: number,
  label: string,
  change: (em: EntityManager, document: ShotDocument) => Promise<ShotDocument>,
): Promise<ShotState> {
  return inTransaction(async (em) => {
    const shot = await lockAt(em, id, expectedHead);
    await append(em, shot, label, await change(em, shot.document));
    return stateOf(em, id);
  });
}

/** @throws Problem `plate-locked` for the span of a locked plate, `span-turned` */
export function changeDocument(
  id: string,
  expectedHead: number,
  label: string,
  patch: DocumentPatch,
): Promise<ShotState> {
  return changeShot(id, expectedHead, label, async (em, document) => {
    for (const change of patch.plates ?? []) {
      const plate = plateOf(document, change.id);
      if (
        (change.near !== undefined ||
          change.far !== undefined ||
          change.placement !== undefined ||
          change.match !== undefined) &&
        change.locked !== false
      )
        requireUnlocked(plate);
    }
    let next = patchDocument(document, patch);
    for (const { id: moved, placement } of patch.plates ?? []) {
      const was = plateOf(document, moved).piece;
      if (placement && was && !equal(was.placement, placement))
        next = {
          ...next,
          plates: await Promise.all(
            next.plates.map(async (p) => (p.id === moved ? followPlacement(em, was.placement, p, document.source) : p)),
          ),
        };
    }
    const turned = next.plates.find((p) => p.depth.near <= p.depth.far);
    if (turned)
      throw new Problem(
        422,
        'span-turned',
        `The depth span of ${turned.name} would be ${turned.depth.far} to ${turned.depth.near}: its near end must be nearer than its far end.`,
      );
    return next;
  });
}

/** Edits the depth of the back plate (null) or of a plate. @throws Problem `plate-locked`, `not-cut` */
export function editDepth(
  id: string,
  expectedHead: number,
  edit: DepthEdit,
  plateId: string | null = null,
  behind = false,
): Promise<ShotState> {
  if (behind) return editBehind(id, expectedHead, edit);
  return changeShot(id, expectedHead, editLabel(edit), async (em, document) =>
    withDepth(document, plateId, async (from) => (await applyEdit(em, await loadRevision(em, from), edit)).id),
  );
}

/** Edits the back plate's depth where plates hide it. @throws Problem `not-opened` before that depth was opened */
function editBehind(id: string, expectedHead: number, edit: DepthEdit): Promise<ShotState> {
  return changeShot(id, expectedHead, `${editLabel(edit)} behind the plates`, async (em, document) => {
    if (document.depth.behind === null)
      throw new Problem(
        422,
        'not-opened',
        'The depth behind the plates is not open yet. Switch it on in the Depth stage first.',
      );
    return {
      ...document,
      depth: {
        ...document.depth,
        behind: (await applyEdit(em, await loadRevision(em, document.depth.behind), edit)).id,
      },
    };
  });
}

/** Replaces the whole depth map of the back plate (null) or of a plate. @throws Problem `plate-locked`, `not-cut` */
export function replaceDepth(
  id: string,
  expectedHead: number,
  label: string,
  map: DepthMap,
  plateId: string | null = null,
): Promise<ShotState> {
  return changeShot(id, expectedHead, label, async (em, document) =>
    withDepth(document, plateId, async () => (await storeMap(em, map)).id),
  );
}

/** The document with another depth revision for the back plate (null) or a plate, which must be cut and not locked. */
async function withDepth(
  document: ShotDocument,
  plateId: string | null,
  make: (from: string) => Promise<string>,
): Promise<ShotDocument> {
  if (plateId === null)
    return { ...document, depth: { ...document.depth, revision: await make(document.depth.revision) } };
  const plate = plateOf(document, plateId);
  requireUnlocked(plate);
  if (plate.depth.revision === null)
    throw new Problem(422, 'not-cut', `${plate.name} is only planned and has no depth yet. Cut it first.`);
  const revision = await make(plate.depth.revision);
  return {
    ...document,
    plates: document.plates.map((p) => (p.id === plateId ? { ...p, depth: { ...p.depth, revision } } : p)),
  };
}

/** Steps back to the parent of the head, or forward to its newest child. Entries stay for ever. */
export function moveInHistory(id: string, expectedHead: number, action: 'undo' | 'redo'): Promise<ShotState> {
  return inTransaction(async (em) => {
    const shot = await lockAt(em, id, expectedHead);
    const head = await em.findOneOrFail(HistoryEntry, { id: shot.headId });
    const target =
      action === 'undo'
        ? head.parentId === null
          ? null
          : await em.findOne(HistoryEntry, { id: head.parentId })
        : await em.findOne(HistoryEntry, { shotId: id, parentId: head.id }, { orderBy: { id: 'desc' } });
    if (!target)
      throw new Problem(
        422,
        'nothing-there',
        action === 'undo' ? 'There is nothing to undo: this is how the shot began.' : 'There is nothing to redo.',
      );
    shot.headId = target.id;
    shot.document = target.document;
    shot.changedAt = new Date();
    await em.flush();
    return stateOf(em, id);
  });
}
