import type { RoomCore } from '../../room/core';
import type { DepthSlice } from './slice';

/** What a version of the map in work is called: its kept name, or the step that made it. */
export function versionName({ document, active, steps }: RoomCore & DepthSlice, revision: string | null): string {
  if (revision === null) return 'as it is';
  const kept = document.keptDepths.find((k) => k.plate === active && k.revision === revision);
  return kept?.name ?? steps?.find((s) => s.revision === revision)?.label ?? 'earlier';
}
