'use client';

import { useRef, useState } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import type { Point } from '@/core/raster/geometry';
import { RoundMark } from '../../../viewer/marks';
import { thinned, type UseTool } from '../../../viewer/tool';
import { useFill, useFillStore, type Hand } from '../slice';
import { useDrawing } from './drawing';

/** Takes filling back by brush. */
export const useErase: UseTool = ({ zoom, toScreen }) => {
  const store = useFillStore();
  const { size } = useFill((s) => s.hand);
  const [pen, setPen] = useState<Point | undefined>();
  const trail = useRef<Point[]>([]);
  const draw = useDrawing();
  return {
    down: (at) => {
      trail.current = [at];
      draw(eraseOf(store.getState().hand, trail.current));
    },
    move: (at) => {
      setPen(at);
      trail.current.push(at);
      draw(eraseOf(store.getState().hand, trail.current));
    },
    up: () => {
      const { hand, fillEdit } = store.getState();
      if (trail.current.length > 0) fillEdit(eraseOf(hand, trail.current));
      trail.current = [];
    },
    hover: setPen,
    overlay: pen && <RoundMark at={toScreen(pen)} zoom={zoom} size={size} says="erase" />,
  };
};

const eraseOf = ({ size, hardness, strength }: Hand, trail: readonly Point[]): FillEdit => ({
  kind: 'erase',
  size,
  hardness,
  strength,
  points: thinned(trail, size / 6),
});
