import { carriedName } from '@/core/shot/atMoment';
import type { ShotDocument } from '@/core/shot/document';
import type { FootageState } from '../api';

/** Says of a carried depth whether the server has it, by what was last asked. */
export function carriedBy(
  state: FootageState | undefined,
  { source, footage }: Pick<ShotDocument, 'source' | 'footage'>,
): (name: string) => boolean {
  if (!state || !footage) return () => false;
  return (name) => {
    const frame = Number(name.slice(name.lastIndexOf('_') + 1));
    // It may have been carried from keys that are others by now.
    return typeof state.trust[frame] === 'number' && name === carriedName(source.mediaId, state, frame);
  };
}
