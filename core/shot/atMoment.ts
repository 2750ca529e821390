import { CoreError } from '../error';
import { carriedName, depthFrom } from './carriedNames';
import { budgetAt, withBudgetAt } from './document';
import type { DepthKeyPart, Footage, ShotDocument } from './document';
import { fillAtMoment, withFillKey } from './fillAtMoment';
import { isCarriedPlate } from './isCarriedPlate';
import { keysAround } from './keysAround';
import { plateAtMoment, plateKeyAt, withPlateKey } from './plateAtMoment';

// A document always stands at one frame of its footage: source, depth, plates, fills, marks and kept versions are those
// of that frame. What belongs to the others lies among the keys.

/** The key of a frame; undefined where its depth is carried. */
export const keyAt = ({ keys }: Pick<Footage, 'keys'>, moment: number): DepthKeyPart | undefined =>
  keys.find(({ frame }) => frame === moment);

/** The key that is nearest in time: the earlier of two. */
export function nearestKey(footage: Pick<Footage, 'keys'>, moment: number): DepthKeyPart {
  const { before, after } = keysAround(footage, moment);
  if (!before || !after) return (before ?? after)!;
  return moment - before.frame <= after.frame - moment ? before : after;
}

/**
 * A shot's document at one of its frames; the same document for a still. A frame without a key shows its carried
 * depth, or, until that
 * is there, the nearest key's.
 * @param carried says of a carried depth whether it is there
 */
export function atMoment(
  document: ShotDocument,
  moment: number,
  carried: (name: string) => boolean = () => false,
): ShotDocument {
  if (!document.footage) return document;
  const held = withKey(document);
  const footage = held.footage!;
  const key = keyAt(footage, moment);
  const name = carriedName(document.source.mediaId, depthFrom(held), moment);
  const shown = key ?? nearestKey(footage, moment);
  const { behind, ...painted } = fillAtMoment(held, moment, carried);
  return {
    ...held,
    source: { ...document.source, moment },
    depth: { ...document.depth, revision: !key && carried(name) ? name : shown.revision, behind },
    ...painted,
    plates: held.plates.map((plate) => plateAtMoment(plate, document.source.mediaId, moment, carried)),
    budget: footage.script.length > 0 ? budgetAt(footage.script, moment) : document.budget,
    marks: key?.marks ?? [],
    keptDepths: key?.keptDepths ?? [],
  };
}

/**
 * The same document, with what it says of its frame's depth, plates and fills among the keys, and of its budget in the
 * depth script.
 */
function withKey(document: ShotDocument): ShotDocument {
  const { footage, source, depth, marks, keptDepths, budget } = document;
  if (!footage) return document;
  const moment = source.moment ?? 0;
  const scripted = footage.script.length > 0 ? budgetAt(footage.script, moment) : budget;
  const same = scripted.nearPx === budget.nearPx && scripted.farPx === budget.farPx;
  const script = same ? footage.script : withBudgetAt(footage.script, moment, budget);
  const keys = footage.keys.map((key) =>
    key.frame === source.moment ? { ...key, revision: depth.revision, marks, keptDepths } : key,
  );
  return {
    ...document,
    footage: { ...footage, keys, script, fills: withFillKey(document) },
    plates: document.plates.map((plate) => withPlateKey(plate, moment)),
  };
}

/**
 * A document that was changed at a frame, as it is stored: at its first frame.
 * @param seen what was changed
 * @throws CoreError `no-key` where a frame's depth was changed that has none of its own, or a plate's that has no key
 * there; `not-on-footage` for what films cannot have
 */
export function storedMoment(seen: ShotDocument, changed: ShotDocument): ShotDocument {
  if (!changed.footage) return changed;
  if (changed.frame !== null) throw notOnFootage('A wider canvas is for stills.');
  if (changed.plates.some(({ fill, overpaint, strokes }) => fill !== null || overpaint !== null || strokes.length > 0))
    throw notOnFootage('On a film only the back plate is filled: plates go on smoothly behind nearer ones.');
  if (changed.depth.revision !== seen.depth.revision || changed.marks.length > 0) requireKey(changed);
  const held = withKey(changed);
  for (const plate of changed.plates) {
    const was = seen.plates.find(({ id }) => id === plate.id);
    // Where keys come and go, its depth changes by itself.
    if (was?.keys === plate.keys && !equalDepth(was.depth, plate.depth)) requirePlateKey(held, plate.id);
  }
  return atMoment(held, 0);
}

const notOnFootage = (says: string): CoreError => new CoreError('not-on-footage', says);

const equalDepth = (a: ShotDocument['plates'][number]['depth'], b: typeof a): boolean =>
  a.revision === b.revision && a.near === b.near && a.far === b.far;

/** @throws CoreError `no-key` where a document stands at a frame to which a plate is carried */
export function requirePlateKey({ footage, source: { moment = 0 }, plates }: ShotDocument, id: string): void {
  const plate = plates.find((p) => p.id === id);
  if (footage && plate && isCarriedPlate(plate) && !plateKeyAt(plate, moment))
    throw new CoreError(
      'no-key',
      `${plate.name} has no key at frame ${moment + 1}: it is carried there. Set a key there in the Cut stage, then change it.`,
    );
}

/** @throws CoreError `no-key` where a document stands at a frame whose depth is carried */
export function requireKey({ footage, source: { moment = 0 } }: Pick<ShotDocument, 'footage' | 'source'>): void {
  if (footage && !keyAt(footage, moment))
    throw new CoreError(
      'no-key',
      `Frame ${moment + 1} has no depth of its own: it is carried from other frames. Set a key there, then work on it.`,
    );
}
