import { useEffect } from 'react';
import type { FillEdit } from '@/core/fill/edits';
import { useFillStore } from '../slice';

/** Shows an edit as it is being drawn; nothing once another tool is taken in hand. */
export function useDrawing(): (drawing: FillEdit | undefined) => void {
  const store = useFillStore();
  const draw = (drawing: FillEdit | undefined): void => {
    if (store.getState().drawing !== drawing) store.getState().set({ drawing });
  };
  useEffect(
    () => () => {
      store.getState().set({ drawing: undefined });
    },
    [store],
  );
  return draw;
}
