import { CoreError } from '@/core/error';
import { requireKey, requirePlateKey } from '@/core/shot/atMoment';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { plateOf, requireUnlocked } from './plateList';

/** The document with another depth behind the plates, which must be open. @throws Problem `not-opened`; CoreError `not-on-footage` */
export async function withBehind(
  document: ShotDocument,
  make: (from: string) => Promise<string>,
): Promise<ShotDocument> {
  const { behind } = document.depth;
  if (document.footage)
    throw new CoreError('not-on-footage', 'What lies behind the plates of a film is carried, and not painted on.');
  if (behind === null)
    throw new Problem(
      422,
      'not-opened',
      'The depth behind the plates is not open yet. Switch it on in the Depth stage first.',
    );
  return { ...document, depth: { ...document.depth, behind: await make(behind) } };
}

/**
 * The document with another depth revision for the back plate (null) or a plate. @throws Problem `plate-locked`,
 * `not-cut`; CoreError `no-key` at a frame of a film to which it is carried
 */
export async function withDepth(
  document: ShotDocument,
  plateId: string | null,
  make: (from: string) => Promise<string>,
): Promise<ShotDocument> {
  if (plateId === null) requireKey(document);
  else requirePlateKey(document, plateId);
  if (plateId === null)
    return { ...document, depth: { ...document.depth, revision: await make(document.depth.revision) } };
  const plate = plateOf(document, plateId);
  requireUnlocked(plate);
  const revision = await make(requireCut(plate));
  return {
    ...document,
    plates: document.plates.map((p) => (p.id === plateId ? { ...p, depth: { ...p.depth, revision } } : p)),
  };
}

/** A plate's depth. @throws Problem `not-cut` */
export function requireCut({ name, depth }: Plate): string {
  if (depth.revision === null)
    throw new Problem(422, 'not-cut', `${name} is only planned and has no depth yet. Cut it first.`);
  return depth.revision;
}
