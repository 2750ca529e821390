'use client';

import { useRef, type PointerEvent } from 'react';

interface Drag {
  /** Called with how far the pointer went down since the press, css px; a tenth of it with the second button. */
  onMove(dy: number): void;
  onStart?(): void;
  onEnd(): void;
}

/** Dragging up and down; with the second button fine, one tenth. */
export function useDrag({ onMove, onStart, onEnd }: Drag) {
  const from = useRef<{ y: number; fine: boolean } | undefined>(undefined);
  return {
    onPointerDown: (e: PointerEvent) => {
      if (e.button === 1) return;
      e.preventDefault();
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      (e.currentTarget as HTMLElement).focus?.();
      from.current = { y: e.clientY, fine: e.button === 2 };
      onStart?.();
    },
    onPointerMove: (e: PointerEvent) => {
      if (from.current) onMove((e.clientY - from.current.y) * (from.current.fine ? 0.1 : 1));
    },
    onPointerUp: () => {
      if (from.current) {
        from.current = undefined;
        onEnd();
      }
    },
    onPointerCancel: () => {
      if (from.current) {
        from.current = undefined;
        onEnd();
      }
    },
    onContextMenu: (e: { preventDefault(): void }) => {
      e.preventDefault();
    },
  };
}

/** Arrow keys: 0.01 of depth, with Shift 0.1, with Alt 0.001; up is farther, as on the board. Undefined for other keys. */
export function arrowStep(e: { key: string; shiftKey: boolean; altKey: boolean }): number | undefined {
  const fine = e.altKey ? 0.001 : 0.01;
  const size = e.shiftKey ? 0.1 : fine;
  if (e.key === 'ArrowUp' || e.key === 'ArrowLeft') return -size;
  if (e.key === 'ArrowDown' || e.key === 'ArrowRight') return size;
  return undefined;
}
