import type { DepthMap } from '../raster/picture';

/**
 * Lays what was painted over a map that was made anew: wherever the map that stood there differs from the one that was
 * made before it, it stays. In place.
 * @param made the new map
 * @param stood the map as it stands, painted on
 * @param before the map as it was made, before anybody painted on it
 */
export function keepPainted(made: DepthMap, stood: DepthMap, before: DepthMap): DepthMap {
  for (let i = 0; i < made.data.length; i++) if (stood.data[i] !== before.data[i]) made.data[i] = stood.data[i];
  return made;
}
