'use client';

import { useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { PaleStrokes, RoundMark, Trail } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { addHairStroke } from '../choosing';
import { useCut, useCutStore } from '../slice';

/** Strokes that widen the band in which the edge is solved: over hair and leaves. */
export const useHair: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const size = useCut((s) => s.hairSize);
  const strokes = useCut((s) => s.choice.edge.unsure);
  const [pen, setPen] = useState<Point | undefined>();
  const [trail, setTrail] = useState<Point[]>([]);
  return {
    down: (at) => {
      setTrail([at]);
    },
    move: (at) => {
      setPen(at);
      setTrail((t) => [...t, at]);
    },
    up: () => {
      if (trail.length > 0) addHairStroke(store.getState(), trail);
      setTrail([]);
    },
    hover: setPen,
    overlay: (
      <>
        <PaleStrokes strokes={strokes} to={toScreen} zoom={zoom} />
        {trail.length > 0 && <Trail points={trail.map(toScreen)} zoom={zoom} size={size} dark={false} />}
        {pen && <RoundMark at={toScreen(pen)} zoom={zoom} size={size} says="unsure" />}
      </>
    ),
  };
};
