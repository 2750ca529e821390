import type { DepthMap, Mask } from '../raster/picture';
import type { RigidMotion } from './rigidMotion';

/** A key's depth as another frame sees it. */
export interface Splat {
  /** Depth 0 to 1; -1 where nothing came. */
  readonly depth: Float32Array;
  /** The key's pixel that came there; -1 where none did. */
  readonly from: Int32Array;
}

/** Each pixel is laid down as so many to a side, so that a surface that grows has no cracks up to that size. */
const PARTS = 2;

/** Lays a key's depth where a motion takes it; the nearest wins. @param apart what is left out, 255 */
export function splatDepth({ width, height, data }: DepthMap, motion: RigidMotion, apart?: Mask): Splat {
  const depth = new Float32Array(width * height).fill(-1);
  const from = new Int32Array(width * height).fill(-1);
  const out = new Float64Array(2);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (apart && apart.data[i] > 0) continue;
      const was = data[i] / 65535;
      motion.move(x + 0.5, y + 0.5, was, out);
      const now = motion.depthAfter(was);
      for (let part = 0; part < PARTS * PARTS; part++) {
        const u = Math.floor(x + 0.25 + 0.5 * (part & 1) + out[0]);
        const v = Math.floor(y + 0.25 + 0.5 * (part >> 1) + out[1]);
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const k = v * width + u;
        if (now <= depth[k]) continue;
        depth[k] = now;
        from[k] = i;
      }
    }
  closeCracks(depth, from, width, height);
  return { depth, from };
}

/**
 * A pixel that nothing reached between two of one surface belongs to it: to the farther of those that face each
 * other.
 */
function closeCracks(depth: Float32Array, from: Int32Array, width: number, height: number): void {
  const open: [number, number][] = [];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      if (from[i] >= 0) continue;
      let best = -1;
      for (const step of [1, width, width + 1, width - 1]) {
        if (from[i - step] < 0 || from[i + step] < 0) continue;
        const farther = depth[i - step] < depth[i + step] ? i - step : i + step;
        if (best < 0 || depth[farther] < depth[best]) best = farther;
      }
      if (best >= 0) open.push([i, best]);
    }
  for (const [i, best] of open) {
    depth[i] = depth[best];
    from[i] = from[best];
  }
}
