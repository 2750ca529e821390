import { CoreError } from '../error';
import { budgetAt, withBudgetAt } from './document';
import type { DepthKeyPart, Footage, ShotDocument } from './document';

// A document always stands at one frame of its footage: source, depth, marks and kept versions are those of that
// frame. What belongs
// to the others lies among the keys.

/** The key of a frame; undefined where its depth is carried. */
export const keyAt = ({ keys }: Pick<Footage, 'keys'>, moment: number): DepthKeyPart | undefined =>
  keys.find(({ frame }) => frame === moment);

/** The keys on both sides of a frame, itself included. */
export function keysAround<Key extends { readonly frame: number }>(
  { keys }: { readonly keys: readonly Key[] },
  moment: number,
): { readonly before: Key | undefined; readonly after: Key | undefined } {
  return {
    before: keys.filter(({ frame }) => frame <= moment).pop(),
    after: keys.find(({ frame }) => frame >= moment),
  };
}

/** The key that is nearest in time: the earlier of two. */
export function nearestKey(footage: Pick<Footage, 'keys'>, moment: number): DepthKeyPart {
  const { before, after } = keysAround(footage, moment);
  if (!before || !after) return (before ?? after)!;
  return moment - before.frame <= after.frame - moment ? before : after;
}

type NamedKey = Pick<DepthKeyPart, 'frame' | 'revision'>;

/**
 * What a frame's carried depth is called: by the frame, and by the keys that it is carried from. Another key, another
 * name: what is
 * stored under one never changes.
 */
export function carriedName(mediaId: string, footage: { readonly keys: readonly NamedKey[] }, moment: number): string {
  const { before, after } = keysAround(footage, moment);
  const side = (key: NamedKey | undefined): string => (key ? `${key.frame}-${key.revision}` : 'none');
  return `carried_${mediaId}_${side(before)}_${side(after)}_${moment}`;
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
  const name = carriedName(document.source.mediaId, footage, moment);
  const shown = key ?? nearestKey(footage, moment);
  return {
    ...held,
    source: { ...document.source, moment },
    depth: { ...document.depth, revision: !key && carried(name) ? name : shown.revision, behind: shown.behind },
    budget: footage.script.length > 0 ? budgetAt(footage.script, moment) : document.budget,
    marks: key?.marks ?? [],
    keptDepths: key?.keptDepths ?? [],
  };
}

/** The same document, with what it says of its frame's depth among the keys, and of its budget in the depth script. */
function withKey(document: ShotDocument): ShotDocument {
  const { footage, source, depth, marks, keptDepths, budget } = document;
  if (!footage) return document;
  const moment = source.moment ?? 0;
  const scripted = footage.script.length > 0 ? budgetAt(footage.script, moment) : budget;
  const same = scripted.nearPx === budget.nearPx && scripted.farPx === budget.farPx;
  const script = same ? footage.script : withBudgetAt(footage.script, moment, budget);
  const keys = footage.keys.map((key) =>
    key.frame === source.moment ? { ...key, revision: depth.revision, behind: depth.behind, marks, keptDepths } : key,
  );
  return { ...document, footage: { ...footage, keys, script } };
}

/**
 * A document that was changed at a frame, as it is stored: at its first frame.
 * @param seen what was changed
 * @throws CoreError `no-key` where a frame's depth was changed that has none of its own
 */
export function storedMoment(seen: ShotDocument, changed: ShotDocument): ShotDocument {
  if (!changed.footage) return changed;
  if (changed.plates.length > 0 || changed.fill !== null || changed.overpaint !== null || changed.frame !== null)
    throw new CoreError(
      'not-on-footage',
      'Plates, fills and a wider canvas are for stills: a shot that moves has one depth map a frame so far.',
    );
  if (changed.depth.revision !== seen.depth.revision || changed.marks.length > 0) requireKey(changed);
  return atMoment(changed, 0);
}

/** @throws CoreError `no-key` where a document stands at a frame whose depth is carried */
export function requireKey({ footage, source: { moment = 0 } }: Pick<ShotDocument, 'footage' | 'source'>): void {
  if (footage && !keyAt(footage, moment))
    throw new CoreError(
      'no-key',
      `Frame ${moment + 1} has no depth of its own: it is carried from other frames. Set a key there, then work on it.`,
    );
}
