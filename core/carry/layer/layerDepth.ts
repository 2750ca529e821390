import { extendDepth } from '../../depth/extendDepth';
import type { DepthMap, Mask } from '../../raster/picture';
import { cameFrom, type PlacedLayer } from './placedLayer';

/**
 * The depth of a cut-out where it was found: its key's, moved along with it; of two keys both, each by how near it lies
 * in time. Beyond its matte it goes on as its edge does.
 * @param depthOf a key's depth
 */
export function layerDepth(matte: Mask, placed: readonly PlacedLayer[], depthOf: (key: number) => DepthMap): DepthMap {
  const { width, height } = matte;
  const data = new Uint16Array(width * height);
  const known: Mask = { width, height, data: new Uint8Array(width * height) };
  const sure = placed.filter((p) => p.sure);
  const says = (sure.length > 0 ? sure : placed).map((p) => ({ placed: p, near: p.near, depth: depthOf(p.key) }));
  const out = new Float64Array(2);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (matte.data[i] < 128) continue;
      let [sum, weight] = [0, 0];
      for (const { placed: from, near, depth } of says) {
        cameFrom(from, x, y, out);
        const u = Math.min(width - 1, Math.max(0, Math.round(out[0])));
        const v = Math.min(height - 1, Math.max(0, Math.round(out[1])));
        sum += near * depth.data[v * width + u];
        weight += near;
      }
      if (weight === 0) continue;
      data[i] = Math.round(sum / weight);
      known.data[i] = 255;
    }
  return extendDepth({ width, height, data }, known);
}
