'use client';

import { useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import type { Tool } from '../../../viewer/tool';

/** A stroke drawn freely by a round brush. */
interface FreeStroke {
  /** Where the pen is; undefined beside the picture. */
  readonly pen: Point | undefined;
  /** The stroke so far; empty while none is drawn. */
  readonly trail: readonly Point[];
  readonly hand: Pick<Tool, 'down' | 'move' | 'up' | 'hover'>;
}

/** @param onDrawn takes the whole stroke when the pen is lifted */
export function useFreeStroke(onDrawn: (trail: Point[]) => void): FreeStroke {
  const [pen, setPen] = useState<Point | undefined>();
  const [trail, setTrail] = useState<Point[]>([]);
  return {
    pen,
    trail,
    hand: {
      down: (at) => {
        setTrail([at]);
      },
      move: (at) => {
        setPen(at);
        setTrail((drawn) => [...drawn, at]);
      },
      up: () => {
        if (trail.length > 0) onDrawn(trail);
        setTrail([]);
      },
      hover: setPen,
    },
  };
}
