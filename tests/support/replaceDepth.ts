import type { DepthMap } from '@/core/raster/picture';
import { storeMap } from '@/server/rasters/revisions';
import { withDepth } from '@/server/shots/depthOf';
import { changeShot, type ShotAt, type ShotState } from '@/server/shots/history';

/** Replaces the whole depth map of the back plate (null) or of a plate, as an imported file does. */
export function replaceDepth(
  at: ShotAt,
  label: string,
  map: DepthMap,
  plate: string | null = null,
): Promise<ShotState> {
  return changeShot(at, label, async (em, document) =>
    withDepth(document, plate, async () => (await storeMap(em, map)).id),
  );
}
