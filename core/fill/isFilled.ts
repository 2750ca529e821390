import { isDeep, type Straight } from '../raster/picture';

/**
 * Whether a pixel that is uncovered has been filled. At a smaller size a hole's rim is rounded outwards by up to a pixel: there
 * what touches a filled pixel is filled.
 * @param scale raster px per source px
 */
export function isFilled(fill: Straight | undefined, i: number, scale: number): boolean {
  if (!fill) return false;
  const { width, height, data } = fill;
  const full = isDeep(fill) ? 65535 : 255;
  const at = (j: number): boolean => data[j * 4 + 3] * 2 >= full;
  if (at(i)) return true;
  if (scale >= 1) return false;
  const x = i % width;
  const y = (i - x) / width;
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) if (at(v * width + u)) return true;
  return false;
}
