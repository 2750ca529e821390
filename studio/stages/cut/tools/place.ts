'use client';

import { useRef } from 'react';
import type { Point } from '@/core/raster/geometry';
import { tenths, type UseTool } from '../../../viewer/tool';
import { useCutStore } from '../slice';

/** Moves a brought-in plate about. */
export const usePlace: UseTool = () => {
  const store = useCutStore();
  const from = useRef<Point | undefined>(undefined);
  return {
    down: (at) => {
      from.current = at;
    },
    move: (at) => {
      const { document, active, try: show } = store.getState();
      const placement = document.plates.find((p) => p.id === active)?.piece?.placement;
      if (!placement || active === null || !from.current) return;
      const moved = tenths({ x: placement.x + at.x - from.current.x, y: placement.y + at.y - from.current.y });
      show({ plates: [{ id: active, placement: { ...placement, ...moved } }] });
      from.current = at;
    },
    up: () => {
      from.current = undefined;
      store.getState().keep('Place a plate');
    },
    cursor: 'move',
  };
};
