'use client';

import type { UseTool } from '../../../viewer/tool';
import { addFlood } from '../choosing';
import { useCutStore } from '../slice';

/** Similar colour around the place that is clicked. */
export const useFlood: UseTool = () => {
  const store = useCutStore();
  return {
    down: (at) => {
      addFlood(store.getState(), at);
    },
  };
};
