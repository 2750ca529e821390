import { behindName, carriedName, filledName, momentOfName, plateName } from '@/core/shot/carriedNames';
import type { ShotDocument } from '@/core/shot/document';
import type { FootageState } from '../api';

/**
 * Says of something carried whether the server has it, by what was last asked. It may have been carried from keys that
 * are others by now: then its name is another one.
 */
export function carriedBy(
  state: FootageState | undefined,
  { source: { mediaId }, footage }: Pick<ShotDocument, 'source' | 'footage'>,
): (name: string) => boolean {
  if (!state || !footage) return () => false;
  const { trust, plates, behind } = state;
  return (name) => {
    const frame = momentOfName(name);
    if (name.startsWith('plate_'))
      return plates.some(
        (plate) => typeof plate.trust[frame] === 'number' && name === plateName(mediaId, plate, frame),
      );
    if (name.startsWith('behind_'))
      return behind.depth.there[frame] && name === behindName(mediaId, behind.depth.hash, frame);
    if (name.startsWith('filled_'))
      return behind.colours.there[frame] && name === filledName(mediaId, behind.colours.hash, frame);
    return typeof trust[frame] === 'number' && name === carriedName(mediaId, state, frame);
  };
}
