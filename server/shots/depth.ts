import type { Fault } from '@/core/depth/faults';
import type { Mended } from '@/core/depth/mendDepth';
import type { DepthEdit } from '@/core/depth/edits';
import { makeLabel, type DepthMake } from '@/core/depth/makers';
import { atMoment, requireKey, requirePlateKey } from '@/core/shot/atMoment';
import { marksOfPlate, type HeldMarks, type Plate, type ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { isUniform } from '../rasters/revisions';
import type { DepthFile } from '../threads/importDepth';
import { inThread } from '../threads/pool';
import { carriedIsThere } from './carriedRasters';
import { requireCut, withDepth } from './depthOf';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { footageOf } from './footageOf';
import { longWork } from './longWork';
import { plateOf, requireUnlocked } from './plateList';

/** Which depth is meant: a plate's, the back plate's (null), or the back plate's where plates hide it. */
export interface DepthTarget {
  /** @default null */
  readonly plate?: string | null;
  /** @default false */
  readonly behind?: boolean;
}

/** The shot with a depth that was brought in, and what that lacked; null where it was left as it is. */
export type DepthBroughtIn = ShotState & { readonly mended?: Mended | null };

/** True while the back plate has one depth everywhere. */
export async function isFlat({ depth }: ShotDocument): Promise<boolean> {
  return isUniform(await database(), depth.revision);
}

/**
 * Edits a depth, in a thread: many artists paint at the same time. @throws Problem `plate-locked`, `not-cut`,
 * `not-opened`; `missed`
 */
export function editDepth(
  at: ShotAt,
  edit: DepthEdit,
  { plate = null, behind = false }: DepthTarget = {},
): Promise<ShotState> {
  return inThread('editDepth', { at, edit, plate, behind }, { quickOn: at.id });
}

/**
 * Puts a depth picture in the place of a depth map. @throws Problem `plate-locked`, `not-cut`; what is wrong with the
 * file
 */
export async function importDepth(at: ShotAt, file: DepthFile, plate: string | null): Promise<DepthBroughtIn> {
  const { source } = await keyedDocument(at, plate);
  const { revision, mended } = await inThread('importDepth', { source, file });
  return changeShot(
    at,
    `Depth from ${file.fileName}`,
    async (_em, document) => ({
      document: withMarks(await withDepth(document, plate, () => Promise.resolve(revision)), plate, undefined),
      answer: { mended },
    }),
    { fits: (current) => current.source.mediaId === source.mediaId },
  );
}

/**
 * Makes a whole depth map: a start, one of marks, or another one of the one that is there. One step of the history; the
 * marks are kept with the document, and so is what was painted between two changes of them. What was painted on the map
 * meanwhile is kept: then nothing is made.
 * @throws Problem `plate-locked`, `not-cut`, `busy`, `stopped`, `moved-on`; CoreError what it cannot be made of
 */
export async function makeDepth(at: ShotAt, make: DepthMake, plate: string | null): Promise<ShotState> {
  const document = await keyedDocument(at, plate);
  const owner = plate === null ? undefined : plateOf(document, plate);
  if (owner && readsPicture(make)) requireOwnDepth(owner);
  else if (owner) requireUnlocked(owner);
  const from = owner ? requireCut(owner) : document.depth.revision;
  const held = marksOfPlate(document, plate);
  const base = make.kind === 'marks' ? (held?.base ?? from) : from;
  const name = owner?.name ?? 'the back plate';
  const { source } = document;
  const stays = make.kind === 'marks' && !make.overPaint && held?.made !== from;
  const painted = stays ? held?.made : undefined;
  const order = { source, make, from, base, painted, matte: owner?.matte ?? null };
  const { revision, made } =
    make.kind === 'marks' && make.marks.length === 0 && painted === undefined
      ? { revision: base, made: base }
      : await longWork({ shot: at.id, name: `the depth of ${name}`, verb: 'Making' }, (follow) =>
          inThread('makeDepth', order, { follow }),
        );
  return changeShot(
    at,
    makeLabel(make),
    async (_em, current) => ({
      document: withMarks(
        await withDepth(current, plate, () => Promise.resolve(revision)),
        plate,
        make.kind === 'marks' ? { plate, base, made, by: make.by, marks: make.marks } : undefined,
      ),
    }),
    {
      fits: (current) =>
        current.source.mediaId === source.mediaId &&
        (plate === null ? current.depth.revision : current.plates.find((p) => p.id === plate)?.depth.revision) === from,
    },
  );
}

/**
 * Depth of the back plate or of a plate that was cut, by a network of the user's own. @throws Problem `busy`,
 * `stopped`,
 * `moved-on`, `plate-locked`, `not-cut`; what is wrong with the network
 */
export async function networkDepth(
  at: ShotAt,
  network: { readonly name: string; readonly edges: number },
  plate: string | null,
): Promise<ShotState> {
  const document = await keyedDocument(at, plate);
  if (plate !== null) {
    const owner = plateOf(document, plate);
    requireOwnDepth(owner);
    requireCut(owner);
  }
  const { source } = document;
  const { revision } = await longWork({ shot: at.id, name: network.name, verb: 'Running' }, (follow) =>
    inThread('networkDepth', { source, network: network.name, edges: network.edges }, { follow }),
  );
  return changeShot(
    at,
    `Depth by ${network.name}`,
    async (_em, current) => ({
      document: withMarks(await withDepth(current, plate, () => Promise.resolve(revision)), plate, undefined),
    }),
    { fits: (current) => current.source.mediaId === source.mediaId },
  );
}

/**
 * The shot with a depth by a second photograph: which parallax, as photographed, white and black have, and what only
 * one of
 * the two shows.
 */
export type DepthByPair = ShotState & { readonly nearPx: number; readonly farPx: number; readonly filled: number };

/**
 * Depth of the back plate by a second photograph. @throws Problem `busy`, `stopped`, `size-differs`, `moved-on`; what
 * is
 * wrong with the file
 */
export async function pairDepth(
  at: ShotAt,
  file: { readonly path: string; readonly fileName: string },
): Promise<DepthByPair> {
  const { source } = await keyedDocument(at, null);
  const { revision, ...found } = await longWork(
    { shot: at.id, name: 'the two photographs', verb: 'Matching' },
    (follow) => inThread('pairDepth', { source, ...file }, { follow }),
  );
  const state = await changeShot(
    at,
    `Depth from ${file.fileName}`,
    async (_em, document) => ({
      document: withMarks(await withDepth(document, null, () => Promise.resolve(revision)), null, undefined),
      answer: found,
    }),
    { fits: (current) => current.source.mediaId === source.mediaId },
  );
  return state as DepthByPair;
}

/**
 * A first depth of the back plate from the camera's own motion around a film's frame. @throws Problem `no-footage`,
 * `busy`, `stopped`, `moved-on`; CoreError `no-key`, `camera-still`
 */
export async function depthByMotion(at: ShotAt): Promise<ShotState> {
  const document = await keyedDocument(at, null);
  const { source, footage } = footageOf({ document });
  const { revision } = await longWork({ shot: at.id, name: 'depth from motion', verb: 'Reading' }, (follow) =>
    inThread('motionDepth', { source, frames: footage.frames }, { follow }),
  );
  return changeShot(
    at,
    'Depth from motion',
    async (_em, current) => ({
      document: withMarks(await withDepth(current, null, () => Promise.resolve(revision)), null, undefined),
    }),
    { fits: (current) => current.depth.revision === document.depth.revision },
  );
}

/**
 * The document that a depth is made for: of a film at a frame that has depth of its own. @throws CoreError `no-key`
 * before any work is done
 */
async function keyedDocument(at: ShotAt, plate: string | null): Promise<ShotDocument> {
  const document = await documentOf(at);
  if (plate === null) requireKey(document);
  else requirePlateKey(document, plate);
  return document;
}

/** True for what is made by the shot's own picture, or chosen on it. */
const readsPicture = (make: DepthMake): boolean =>
  make.kind === 'start' ||
  make.kind === 'marks' ||
  make.kind === 'fit' ||
  make.kind === 'flatten' ||
  ('where' in make && make.where?.kind === 'chosen');

/** @throws Problem `plate-locked`; `brought-in` where a plate's depth cannot be read off the shot's picture */
function requireOwnDepth(plate: Plate): void {
  requireUnlocked(plate);
  if (plate.piece)
    throw new Problem(
      422,
      'brought-in',
      `${plate.name} was brought in: its depth is not read off this picture. Paint it, or bring its depth in.`,
    );
}

/** What shows in glasses of a stored map; nothing where a plate is only planned. */
export async function faultsOfDepth(id: string, plate: string | null, moment = 0): Promise<readonly Fault[]> {
  const document = atMoment((await shotState(id)).document, moment, carriedIsThere);
  const revision = plate === null ? document.depth.revision : plateOf(document, plate).depth.revision;
  if (revision === null) return [];
  return (await inThread('depthFaults', { source: document.source, revision })).faults;
}

/** The document with other marks of one map; those of plates that are gone go with them. */
export function withMarks(document: ShotDocument, plate: string | null, held: HeldMarks | undefined): ShotDocument {
  const others = document.marks.filter(
    (m) => m.plate !== plate && (m.plate === null || document.plates.some((p) => p.id === m.plate)),
  );
  return { ...document, marks: held && held.marks.length > 0 ? [...others, held] : others };
}
