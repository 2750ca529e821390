import type { ContinueOptions } from '../inpaint/continuation/continueFill';
import { fillHole, type FillMethod } from '../inpaint/fillHole';
import type { Point } from '../raster/geometry';
import type { Mask, Picture } from '../raster/picture';
import { sidesOfStroke } from './beside';

/** How a hole is filled. */
export interface FillBy {
  readonly method: FillMethod;
  readonly options: ContinueOptions;
}

/**
 * Fills both sides of a border between two grounds, each as if the other were not there.
 * @param stroke px of the picture, see sidesOfStroke
 * @throws CoreError what fillHole throws
 */
export function partGrounds<P extends Picture>(
  picture: P,
  hole: Mask,
  stroke: readonly Point[],
  { method, options }: FillBy,
): P {
  const { sampleFrom, onProgress } = options;
  const sides = sidesOfStroke(hole, stroke);
  return sides.reduce((before, side, n) => {
    const part = { ...hole, data: hole.data.map((v, i) => (v >= 128 && side.data[i] ? 255 : 0)) };
    if (!part.data.some((v) => v > 0)) return before;
    const other = sides[1 - n].data;
    return fillHole(before, part, method, {
      ...options,
      apart: sides[1 - n],
      ...(sampleFrom ? { sampleFrom: { ...hole, data: sampleFrom.data.map((v, i) => (other[i] ? 0 : v)) } } : {}),
      onProgress: (share) => onProgress?.((n + share) / 2),
    });
  }, picture);
}
