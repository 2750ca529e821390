'use client';

import { useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { RoundMark, Trail } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { addRegionStroke } from '../choosing';
import { useCut, useCutStore } from '../slice';

/** Strokes that say in and out. As long as they say one of the two only, nothing can be chosen by them: then they are shown themselves. */
export const useRegion: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const { side, size } = useCut((s) => s.region);
  const begun = useCut((s) => {
    const last = s.choice.ingredients[s.choice.ingredients.length - 1];
    if (last?.kind !== 'region') return undefined;
    return last.strokes.every((stroke) => stroke.side === last.strokes[0].side) ? last.strokes : undefined;
  });
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
      if (trail.length > 0) addRegionStroke(store.getState(), trail);
      setTrail([]);
    },
    hover: setPen,
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
