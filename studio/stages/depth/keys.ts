import type { StoreApi } from 'zustand';
import type { RoomCore } from '../../room/core';
import type { DepthSlice } from './slice';

const STEP = 1.15;
const thousandths = (v: number): number => Math.min(1, Math.max(0, Math.round(v * 1000) / 1000));

/** The brush under the left hand: its size, its depth, and taking the depth under the pen. */
export function onKey({ key }: KeyboardEvent, store: StoreApi<RoomCore & DepthSlice>): boolean {
  const { brush, marking, opened, document, active, hoverDepth, set } = store.getState();
  const { width, height } = document.source;
  const largest = Math.min(4000, Math.max(width, height));
  const change = (part: Partial<DepthSlice['brush']>): boolean => {
    set({ brush: { ...brush, ...part } });
    return true;
  };
  switch (key.toLowerCase()) {
    case 's':
      return change({ size: Math.max(1, Math.round(brush.size / STEP)) });
    case 'd':
      return change({ size: Math.min(largest, Math.max(brush.size + 1, Math.round(brush.size * STEP))) });
    case 'w':
      return change({ depth: thousandths(brush.depth - 0.01) });
    case 'r':
      return change({ depth: thousandths(brush.depth + 0.01) });
    case 'q': {
      if (hoverDepth === undefined) return true;
      // Under the pen lies a depth of the ruler; the brush sets values of the plate in work.
      const { near, far } = document.plates.find((p) => p.id === active)?.depth ?? document.depth;
      const depth = thousandths((hoverDepth - far) / (near - far));
      if (opened.depth === 'marks') set({ marking: { ...marking, depth, chosen: undefined } });
      return change({ depth });
    }
    default:
      return false;
  }
}
