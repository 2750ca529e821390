'use client';

import { useEffect, useState } from 'react';
import { sceneOf } from '@/core/scene/sceneOf';
import { useRoom, useRoomStore } from '../room/context';

/** How many pixels lie at each depth of the ruler, far to near; follows what is painted and moved. */
export function useHistogram(bins: number): readonly number[] {
  const preview = useRoom((s) => s.preview);
  const store = useRoomStore();
  const revision = useRoom((s) =>
    JSON.stringify([s.document.depth, s.document.plates.map((p) => [p.matte, p.hidden, p.depth]), s.trialTicket]),
  );
  const [counts, setCounts] = useState<readonly number[]>([]);
  useEffect(() => {
    if (!preview) return undefined;
    let gone = false;
    const timer = setTimeout(() => {
      void preview.histogram(bins, sceneOf(store.getState().document)).then((c) => {
        if (!gone) setCounts(c);
      });
    }, 120);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, preview, bins, revision]);
  return counts;
}
