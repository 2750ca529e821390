'use client';

import { useEffect, useState } from 'react';
import { useRoom } from '../room/context';

/** How many pixels lie at each depth of the map, far to near; follows the painted map. */
export function useHistogram(bins: number): readonly number[] {
  const source = useRoom((s) => s.histogramOf);
  const revision = useRoom((s) => s.document.depth.revision);
  const [counts, setCounts] = useState<readonly number[]>([]);
  useEffect(() => {
    if (!source) return undefined;
    let gone = false;
    const timer = setTimeout(() => { void source(bins).then((c) => { if (!gone) setCounts(c); }); }, 120);
    return () => { gone = true; clearTimeout(timer); };
  }, [source, bins, revision]);
  return counts;
}
