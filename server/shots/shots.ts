import { storeFlat, storeMap } from '../rasters/revisions';
import { randomUUID } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import equal from 'fast-deep-equal';
import { newDocument, patchDocument, type DocumentPatch, type ShotDocument } from '@/core/shot/document';
import type { DepthMap } from '@/core/raster/picture';
import { depthOf } from '@/core/stereo/parallax';
import { HistoryEntry, Shot } from '../db/entities';
import { Problem } from '../http/problem';
import { changeShot, type ShotAt, type ShotState } from './history';
import { followPlacement } from './pieces';
import { plateOf, requireUnlocked } from './plateList';

/** What a shot begins with. */
export interface Begun {
  readonly projectId: string;
  readonly name: string;
  readonly source: ShotDocument['source'];
  /** @default a still */
  readonly footage?: ShotDocument['footage'];
  /** Focal length of the lens that took it, px; null: nobody knows. @default null */
  readonly focalPx?: number | null;
  /** @default flat on the screen plane */
  readonly depth?: DepthMap;
}

const AS_FILMED = { packing: 'side-by-side', size: 'source' } as const;

/** Stores a new shot whose source is already stored. */
export async function createShot(
  em: EntityManager,
  { projectId, name, source, footage = null, focalPx = null, depth }: Begun,
): Promise<string> {
  const begun = newDocument(source, randomUUID());
  const flat = Math.round(Math.min(1, Math.max(0, depthOf(0, begun.budget))) * 65535);
  const revision = depth ? await storeMap(em, depth) : await storeFlat(em, source, flat);
  const document: ShotDocument = {
    ...begun,
    // A film is handed over as it came, in both eyes.
    ...(footage ? { recipes: { ...begun.recipes, video: { ...begun.recipes.video, ...AS_FILMED } } } : {}),
    footage: footage && {
      ...footage,
      keys: [{ frame: 0, revision: revision.id, marks: [], keptDepths: [] }],
    },
    camera: { ...begun.camera, focalPx },
    depth: { ...begun.depth, revision: revision.id },
  };
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
    patch: null,
    since: 0,
    changeId: null,
    answer: null,
    createdAt: now,
  });
  await em.persistAndFlush(entry);
  shot.headId = entry.id;
  await em.flush();
  return shot.id;
}

/** @throws Problem `plate-locked` for the span of a locked plate, `span-turned` */
export function changeDocument(at: ShotAt, label: string, patch: DocumentPatch): Promise<ShotState> {
  return changeShot(at, label, async (em, document) => {
    for (const change of patch.plates ?? []) {
      const plate = plateOf(document, change.id);
      const moves = [change.near, change.far, change.placement, change.match].some((value) => value !== undefined);
      if (moves && change.locked !== false) requireUnlocked(plate);
    }
    let next = patchDocument(document, patch);
    for (const { id: moved, placement } of patch.plates ?? []) {
      const was = plateOf(document, moved).piece;
      if (!placement || !was || equal(was.placement, placement)) continue;
      const plates = next.plates.map(async (p) =>
        p.id === moved ? followPlacement(em, was.placement, p, document.source) : p,
      );
      next = { ...next, plates: await Promise.all(plates) };
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
