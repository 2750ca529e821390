import { requireSameSize, type DepthMap, type Mask } from '../raster/picture';
import { NARROWEST_SPAN, type CutDepth } from './cutPlate';

/** A plate's coverage, and its map over its span. */
export interface DepthOfPlate {
  readonly matte: Mask;
  readonly depth: DepthMap;
  readonly near: number;
  readonly far: number;
}

/**
 * The depth of two plates as one: every pixel keeps the depth of the plate that covers it more (of the nearer one
 * where they cover
 * alike), over a span that holds both.
 * @throws CoreError `size-differs`
 */
export function mergeDepth(a: DepthOfPlate, b: DepthOfPlate): CutDepth {
  requireSameSize('A plate’s depth map', a.depth, 'the other one', b.depth);
  const far = Math.min(a.far, b.far, 1 - NARROWEST_SPAN);
  const near = Math.max(a.near, b.near, far + NARROWEST_SPAN);
  const span = near - far;
  const data = new Uint16Array(a.depth.data.length);
  const nearer = a.near + a.far >= b.near + b.far;
  for (let i = 0; i < data.length; i++) {
    const ca = a.matte.data[i];
    const cb = b.matte.data[i];
    const p = ca > cb || (ca === cb && nearer) ? a : b;
    const at = p.far + ((p.near - p.far) * p.depth.data[i]) / 65535;
    data[i] = Math.min(65535, Math.max(0, Math.round(((at - far) / span) * 65535)));
  }
  return { depth: { width: a.depth.width, height: a.depth.height, data }, near, far };
}
