import type { DepthMap } from '../raster/picture';

/** What stands out from all four places so many px away is a speck: smaller than twice that, and alone. */
export const SPECK_REACH = 4;
/** It stands out by so much, of depth. */
const OUT = 0.06;

/** Whether a place stands out alone, nearer or farther than all around. It must lie `SPECK_REACH` px within the map. */
export function isSpeck({ width, data }: DepthMap, x: number, y: number): boolean {
  const i = y * width + x;
  const d = data[i];
  const [a, b, c, e] = [
    data[i - SPECK_REACH],
    data[i + SPECK_REACH],
    data[i - SPECK_REACH * width],
    data[i + SPECK_REACH * width],
  ];
  return d - Math.max(a, b, c, e) > OUT * 65535 || Math.min(a, b, c, e) - d > OUT * 65535;
}

/** Takes specks out: each takes the middle of what lies around it. */
export function removeSpecks(map: DepthMap): DepthMap {
  const { width, height, data } = map;
  const out = data.slice();
  for (let y = SPECK_REACH; y < height - SPECK_REACH; y++)
    for (let x = SPECK_REACH; x < width - SPECK_REACH; x++) {
      if (!isSpeck(map, x, y)) continue;
      const i = y * width + x;
      const around = [-SPECK_REACH, SPECK_REACH, -SPECK_REACH * width, SPECK_REACH * width].map((by) => data[i + by]);
      around.sort((a, b) => a - b);
      out[i] = (around[1] + around[2]) >> 1;
    }
  return { width, height, data: out };
}
