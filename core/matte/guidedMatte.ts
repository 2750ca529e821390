import { boundsOf } from '../raster/bounds';
import { cropPicture, cropPlane } from '../raster/crop';
import { guidedFilter } from '../raster/guidedFilter';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';

export interface GuidedMatteOptions {
  /** Half of the window's side, px. @default 12 */
  readonly radius?: number;
  /** How much a window of one colour may differ before it counts as an edge; colours from 0 to 1. @default 1e-4 */
  readonly epsilon?: number;
}

/** What an unsure pixel weighs against a sure one. */
const UNKNOWN = 0.002;

/**
 * A quick soft matte: the trimap (unsure = half) seen through a guided filter with the colours as the guide. Good
 * enough to look
 * at while painting; the closed-form matte is the one that is cut. Sure pixels keep their side.
 *
 * Source: He, Sun and Tang, "Guided image filtering", PAMI 35(6), 2013, with three channels as the guide and windows
 * that learn from
 * their sure pixels.
 * @throws CoreError `size-differs`
 */
export function guidedMatte(picture: Picture8, trimap: Mask, options: GuidedMatteOptions = {}): Mask {
  requireSameSize('The trimap', trimap, 'the picture', picture);
  const r = options.radius ?? 12;
  const out = trimap.data.slice();
  // Only what the unsure pixels can see is worked on.
  const box = boundsOf(trimap.width, trimap.height, (i) => trimap.data[i] !== 0 && trimap.data[i] !== 255, 2 * r + 1);
  if (!box) return { ...trimap, data: out };
  const w = box.right - box.left;
  const h = box.bottom - box.top;
  const done = filtered(cropPicture(picture, box), cropPlane(trimap, box), r, options.epsilon ?? 1e-4);
  for (let y = 0; y < h; y++) out.set(done.subarray(y * w, (y + 1) * w), (box.top + y) * trimap.width + box.left);
  return { ...trimap, data: out };
}

function filtered(picture: Picture8, trimap: Mask, radius: number, epsilon: number): Uint8Array {
  const { data } = trimap;
  // The unsure pixels' half says nothing: a window learns from its sure pixels, and from the others only where it has
  // no sure ones.
  const weight = Float32Array.from(data, (t) => (t === 0 || t === 255 ? 1 : UNKNOWN));
  const sure = new Float32Array(256).fill(0.5);
  sure[0] = 0;
  sure[255] = 1;
  const seen = guidedFilter(
    Float32Array.from(data, (t) => sure[t]),
    picture,
    { radius, epsilon, weight },
  );
  return Uint8Array.from(data, (t, i) =>
    t === 0 || t === 255 ? t : Math.round(255 * Math.min(1, Math.max(0, seen[i]))),
  );
}
