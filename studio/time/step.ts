import type { KeyboardEvent } from 'react';

/** Left and right: a frame, with Shift ten. */
export function stepOf(e: KeyboardEvent): number | undefined {
  const size = e.shiftKey ? 10 : 1;
  if (e.key === 'ArrowLeft') return -size;
  return e.key === 'ArrowRight' ? size : undefined;
}
