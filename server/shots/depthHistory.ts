import { randomUUID } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { atMoment, keyAt } from '@/core/shot/atMoment';
import { KEPT_DEPTHS, type KeptDepth, type ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { query } from '../db/query';
import { Problem } from '../http/problem';
import { loadRevision } from '../rasters/revisions';
import { withMarks } from './depth';
import { requireCut, withDepth } from './depthOf';
import { stepsOf } from './documents';
import { changeShot, shotState, type ShotAt, type ShotState } from './history';
import { plateOf } from './plateList';

/** One step of the history that changed a depth map. */
export interface DepthStep {
  /** Its entry in the history. */
  readonly entry: number;
  readonly label: string;
  readonly at: string;
  /** The map as it was after the step. */
  readonly revision: string;
  /** False where the canvas has grown since: then it is another size and cannot be laid over what is there. */
  readonly fits: boolean;
}

/** The history is looked through so far back, steps of any stage. */
const LOOKED_BACK = 400;

const revisionOf = ({ depth, plates }: ShotDocument, plate: string | null): string | null =>
  plate === null ? depth.revision : (plates.find((p) => p.id === plate)?.depth.revision ?? null);

/**
 * The steps that changed a depth map (null: the back plate's), oldest first, up to the head; with the first as it
 * began.
 */
export async function depthSteps(id: string, plate: string | null, moment = 0): Promise<DepthStep[]> {
  const { head } = await shotState(id);
  const em = await database();
  const steps: Omit<DepthStep, 'fits'>[] = [];
  for (const { entry, label, at, document } of await stepsOf(em, head, LOOKED_BACK)) {
    const held = document.footage && !keyAt(document.footage, moment) ? undefined : atMoment(document, moment);
    const revision = held ? revisionOf(held, plate) : null;
    if (revision !== null && revision !== steps.at(-1)?.revision)
      steps.push({ entry, label, at: at.toISOString(), revision });
  }
  const known = await contentsOf(em, [...new Set(steps.map(({ revision }) => revision))]);
  const sizeNow = known.get(steps.at(-1)?.revision ?? '')?.size;
  // Marks that are renamed make the same map once more: that is no step of it.
  const changed = steps.filter(
    (s, n) => n === 0 || known.get(s.revision)?.held !== known.get(steps[n - 1].revision)?.held,
  );
  return changed.map((step) => ({ ...step, fits: known.get(step.revision)?.size === sizeNow }));
}

interface Contents {
  readonly id: string;
  readonly size: string;
  readonly held: string;
}

/**
 * How large revisions are, and what they hold: their tiles are named by their content. What is stored as a change of
 * another one holds something else than that.
 */
async function contentsOf(em: EntityManager, ids: readonly string[]): Promise<Map<string, Contents>> {
  const rows = await query<Contents>(
    em,
    `select id, width || ' x ' || height as size, coalesce(md5(hashes), id::text) as held
     from raster_revision where id = any($1::uuid[])`,
    [ids],
  );
  return new Map(rows.map((row) => [row.id, row]));
}

/** Keeps a depth map under a name, as it is. @throws Problem `many`, `not-cut`, `name-taken` */
export function keepDepth(at: ShotAt, plate: string | null, name: string): Promise<ShotState> {
  return changeShot(at, `Keep ${name}`, (_em, document) => {
    const revision = plate === null ? document.depth.revision : requireCut(plateOf(document, plate));
    // Those of plates that are gone go with them.
    const held = document.keptDepths.filter((k) => k.plate === null || document.plates.some((p) => p.id === k.plate));
    if (held.some((k) => k.plate === plate && k.name === name))
      throw new Problem(422, 'name-taken', `${name} is kept already. Give this version another name.`);
    if (held.length >= KEPT_DEPTHS)
      throw new Problem(422, 'many', `${KEPT_DEPTHS} versions are kept already. Drop one that is no longer needed.`);
    const kept: KeptDepth = { id: randomUUID(), plate, name, revision };
    return Promise.resolve({ ...document, keptDepths: [...held, kept] });
  });
}

/** Keeps a version no longer; steps of the history still hold it. @throws Problem `not-found` */
export function dropDepth(at: ShotAt, id: string): Promise<ShotState> {
  return changeShot(
    at,
    (document) => `Drop ${document.keptDepths.find((k) => k.id === id)?.name ?? 'a version'}`,
    (_em, document) => {
      if (!document.keptDepths.some((k) => k.id === id)) throw Problem.notFound('This version');
      return Promise.resolve({ ...document, keptDepths: document.keptDepths.filter((k) => k.id !== id) });
    },
  );
}

/**
 * Takes an earlier map up again, of a step or a kept version: a new step, so that nothing is lost.
 * @throws Problem `not-found` where it is none of this map's; `size-differs`, `plate-locked`, `not-cut`
 */
export async function takeDepth(at: ShotAt, plate: string | null, revision: string): Promise<ShotState> {
  const steps = await depthSteps(at.id, plate, at.moment);
  const nameIn = ({ keptDepths }: ShotDocument): string | undefined =>
    keptDepths.find((k) => k.plate === plate && k.revision === revision)?.name ??
    steps.find((s) => s.revision === revision)?.label;
  const label = (document: ShotDocument): string => `Take up ${nameIn(document) ?? 'an earlier depth'}`;
  return changeShot(at, label, async (em, document) => {
    if (nameIn(document) === undefined) throw Problem.notFound('This version');
    const [now, then] = await Promise.all([
      loadRevision(em, revisionOf(document, plate) ?? revision),
      loadRevision(em, revision),
    ]);
    if (now.width !== then.width || now.height !== then.height)
      throw new Problem(
        422,
        'size-differs',
        `This version is ${then.width} × ${then.height} px, but the canvas has grown to ` +
          `${now.width} × ${now.height} px since. Undo leads back to where it fits.`,
      );
    const taken = await withDepth(document, plate, () => Promise.resolve(revision));
    return withMarks(taken, plate, undefined);
  });
}
