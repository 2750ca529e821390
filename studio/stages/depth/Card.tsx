'use client';

import { RemapCard } from './RemapCard';
import { RowCard } from './RowCard';
import { useDepth } from './slice';

/** What stands under the picture in some ways of working. */
export function Card() {
  const way = useDepth((s) => s.opened[s.stage]);
  if (way === 'remap') return <RemapCard />;
  return way === 'relief' ? <RowCard /> : null;
}
