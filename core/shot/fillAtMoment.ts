import { behindHashes, behindName, filledName, isCarriedName } from './carriedNames';
import type { FillKeyPart, ShotDocument } from './document';

/** What was filled behind the plates at a frame of its own. */
export const fillKeyAt = (
  { fills }: Pick<NonNullable<ShotDocument['footage']>, 'fills'>,
  moment: number,
): FillKeyPart | undefined => fills.find(({ frame }) => frame === moment);

/** What lies behind the plates at a frame of a film: as it was filled there, or as it is carried. */
export function fillAtMoment(
  document: ShotDocument,
  moment: number,
  carried: (name: string) => boolean,
): Pick<ShotDocument, 'fill' | 'overpaint' | 'strokes'> & { readonly behind: string | null } {
  const key = document.footage && fillKeyAt(document.footage, moment);
  const { mediaId } = document.source;
  const { depth, colours } = behindHashes(document);
  const [behind, filled] = [behindName(mediaId, depth, moment), filledName(mediaId, colours, moment)];
  return {
    fill: key?.fill ?? (carried(filled) ? filled : null),
    overpaint: key?.overpaint ?? null,
    strokes: key?.strokes ?? [],
    behind: carried(behind) ? behind : null,
  };
}

/** The frames with fills of their own, with what a document says of the frame at which it stands. */
export function withFillKey({ footage, source, fill, overpaint, strokes }: ShotDocument): FillKeyPart[] {
  const moment = source.moment ?? 0;
  const others = footage!.fills.filter(({ frame }) => frame !== moment);
  const made = isCarriedName(fill) ? null : fill;
  if (made === null && overpaint === null && strokes.length === 0) return others;
  return [...others, { frame: moment, fill: made, overpaint, strokes }].sort((a, b) => a.frame - b.frame);
}
