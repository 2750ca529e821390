'use client';

import { useRef, useState } from 'react';
import type { Point } from '@/core/raster/geometry';
import { Rings } from '../../../viewer/marks';
import type { UseTool } from '../../../viewer/tool';
import { useCut, useCutStore } from '../slice';

interface Gathered {
  readonly pieces: number[];
  readonly rings: Point[][];
}
const NO_PIECES: Gathered = { pieces: [], rings: [] };
const MOST_RINGS = 3000;

/** Proposed pieces: the one under the pen is outlined, a click takes it, dragging takes all that the pen runs over. */
export const usePieces: UseTool = ({ toScreen }) => {
  const store = useCutStore();
  const grain = useCut((s) => s.grain);
  const [gathered, setGathered] = useState(NO_PIECES);
  const latest = useRef(gathered);
  /** Places that wait for the answer of those before them. */
  const run = useRef<Point[]>([]);
  const pressed = useRef(false);
  const asking = useRef<Promise<void> | undefined>(undefined);

  const show = (found: Gathered): void => {
    latest.current = found;
    setGathered(found);
  };

  /** Asks for the pieces along the pen's way; done when all places are answered. */
  const gather = (): Promise<void> => {
    asking.current ??= (async () => {
      const { preview } = store.getState();
      try {
        while (preview && run.current.length > 0) {
          const path = run.current;
          run.current = [];
          show(await preview.piecesAlong(path, pressed.current ? latest.current.pieces : [], grain));
        }
      } finally {
        asking.current = undefined;
      }
    })();
    return asking.current;
  };

  return {
    down: (at) => {
      pressed.current = true;
      latest.current = NO_PIECES;
      run.current = [at];
      void gather();
    },
    move: (at) => {
      run.current.push(at);
      void gather();
    },
    up: () => {
      // Taken once the last answer is there.
      void gather().then(() => {
        pressed.current = false;
        const { choose, joining } = store.getState();
        const { rings } = latest.current;
        if (rings.length > 0) choose({ kind: 'pieces', way: joining, rings: rings.slice(0, MOST_RINGS) });
        show(NO_PIECES);
      });
    },
    hover: (at) => {
      if (!at) show(NO_PIECES);
      else if (!pressed.current) {
        run.current = [at];
        void gather();
      }
    },
    overlay: gathered.rings.length > 0 && <Rings rings={gathered.rings} to={toScreen} />,
  };
};
