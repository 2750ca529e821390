import type { Size } from '../../kind';
import { unionRect } from '../../raster/geometry';
import type { Mask } from '../../raster/picture';
import type { LaidLayer } from './laidLayer';

/** What one key says of a cut-out in a frame, and how near that key lies in time, 0 to 1. */
export interface LayerSaying {
  readonly laid: LaidLayer;
  readonly near: number;
}

/** Two outlines that lie no farther apart are the same one, px: it runs between them. */
const SAME = 2;

/**
 * The matte of a frame from what both keys say: what either sees belongs to it, since one key may have had a part of
 * it hidden;
 * where both draw the same outline, it runs between the two.
 */
export function bothSides(size: Size, sayings: readonly LayerSaying[]): Mask {
  const data = new Uint8Array(size.width * size.height);
  const out: Mask = { ...size, data };
  if (sayings.length === 0) return out;
  const rect = sayings.map(({ laid }) => laid.rect).reduce(unionRect);
  const [width, height] = [rect.right - rect.left, rect.bottom - rect.top];
  const planes = sayings.map(({ laid }) => {
    const plane = new Float32Array(width * height);
    const wide = laid.rect.right - laid.rect.left;
    for (let y = 0; y < laid.rect.bottom - laid.rect.top; y++)
      plane.set(
        laid.seen.subarray(y * wide, (y + 1) * wide),
        (laid.rect.top - rect.top + y) * width + laid.rect.left - rect.left,
      );
    return plane;
  });
  const sum = sayings.reduce((all, { near }) => all + near, 0);
  const low = planes.map((plane) => within(plane, { width, height }, Math.min));
  const high = planes.map((plane) => within(plane, { width, height }, Math.max));
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let [most, mean, same] = [0, 0, true];
      for (let n = 0; n < planes.length; n++) {
        const seen = planes[n][i];
        if (seen > most) most = seen;
        mean += (sayings[n].near / sum) * seen;
        same &&= low[n][i] < 0.5 && high[n][i] >= 0.5;
      }
      const value = same ? mean : most;
      data[(rect.top + y) * size.width + rect.left + x] = Math.round(255 * value);
    }
  return out;
}

/** The least (`Math.min`) or the most (`Math.max`) of what lies within `SAME` px. */
function within(plane: Float32Array, { width, height }: Size, pick: (a: number, b: number) => number): Float32Array {
  const across = plane.slice();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      for (let k = Math.max(-SAME, -x); k <= Math.min(SAME, width - 1 - x); k++)
        across[i] = pick(across[i], plane[i + k]);
  const out = across.slice();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      for (let k = Math.max(-SAME, -y); k <= Math.min(SAME, height - 1 - y); k++)
        out[i] = pick(out[i], across[i + k * width]);
  return out;
}
