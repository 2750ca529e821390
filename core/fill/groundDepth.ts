import { inverseDistance, type SourceCamera } from '../camera/sourceCamera';
import type { DepthMap, Premultiplied } from '../raster/picture';
import type { SceneFrame } from '../scene/sceneOf';
import type { ShotRasters } from '../shot/rasters';

/**
 * Depth of a plate (null: the back plate) over the whole canvas as inverse distance, so that planes are planes: 65535 as near as
 * depth 1 of the ruler, 0 infinitely far.
 * @returns undefined where the plate is not laid out
 */
export function groundDepth(
  scene: SceneFrame,
  rasters: ShotRasters<Premultiplied>,
  id: string | null,
  camera: SourceCamera,
): DepthMap | undefined {
  const { width, height } = rasters.picture;
  const data = new Uint16Array(width * height);
  const raster = rasters.plates.find((p) => p.id === id);
  const surface = id === null ? scene.back : scene.plates.find((p) => p.id === id);
  if (!surface || (id !== null && !raster)) return undefined;
  const { depth, from } = raster
    ? { depth: raster.depth.data, from: raster.top * width }
    : { depth: rasters.depth.data, from: 0 };
  const most = 65535 * camera.near;
  const at = (v: number): number => inverseDistance(surface.far + (surface.near - surface.far) * v, camera) * most;
  const [far, near] = [at(0), at(1)];
  for (let i = 0; i < depth.length; i++) data[from + i] = Math.min(65535, far + ((near - far) * depth[i]) / 65535);
  return { width, height, data };
}
