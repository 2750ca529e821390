'use client';

import { PaleStrokes, RoundMark, Trail } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { addHairStroke } from '../choosing';
import { useCut, useCutStore } from '../slice';
import { useFreeStroke } from './freeStroke';

/** Strokes that widen the band in which the edge is solved: over hair and leaves. */
export const useHair: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const size = useCut((s) => s.hairSize);
  const strokes = useCut((s) => s.choice.edge.unsure);
  const { pen, trail, hand } = useFreeStroke((drawn) => {
    addHairStroke(store.getState(), drawn);
  });
  return {
    ...hand,
    overlay: (
      <>
        <PaleStrokes strokes={strokes} to={toScreen} zoom={zoom} />
        {trail.length > 0 && <Trail points={trail.map(toScreen)} zoom={zoom} size={size} dark={false} />}
        {pen && <RoundMark at={toScreen(pen)} zoom={zoom} size={size} says="unsure" />}
      </>
    ),
  };
};
