'use client';

import { RoundMark, Trail } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { addRegionStroke } from '../choosing';
import { useCut, useCutStore } from '../slice';
import { useFreeStroke } from './freeStroke';

/**
 * Strokes that say in and out. As long as they say one of the two only, nothing can be chosen by them: then they are
 * shown themselves.
 */
export const useRegion: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const { side, size } = useCut((s) => s.region);
  const begun = useCut((s) => {
    const last = s.choice.ingredients[s.choice.ingredients.length - 1];
    if (last?.kind !== 'region') return undefined;
    return last.strokes.every((stroke) => stroke.side === last.strokes[0].side) ? last.strokes : undefined;
  });
  const { pen, trail, hand } = useFreeStroke((drawn) => {
    addRegionStroke(store.getState(), drawn);
  });
  return {
    ...hand,
    overlay: (
      <>
        {begun?.map((stroke, n) => (
          <Trail
            key={n}
            points={stroke.points.map(toScreen)}
            zoom={zoom}
            size={stroke.size}
            dark={stroke.side === 'out'}
          />
        ))}
        {trail.length > 0 && <Trail points={trail.map(toScreen)} zoom={zoom} size={size} dark={side === 'out'} />}
        {pen && <RoundMark at={toScreen(pen)} zoom={zoom} size={size} says={side} />}
      </>
    ),
  };
};
