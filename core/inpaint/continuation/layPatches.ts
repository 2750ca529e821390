import type { Mask, Picture } from '../../raster/picture';
import { textureFill, type TextureFillOptions } from '../textureFill';

/**
 * Lays patches from around over a picture, in place, as far as weights say, 0 to 255 a place.
 * @throws CoreError what textureFill throws
 */
export function layPatches(picture: Picture, weights: Uint8Array, options: TextureFillOptions): void {
  const { width, height } = picture;
  const hole: Mask = { width, height, data: weights.map((v) => (v > 0 ? 255 : 0)) };
  if (!hole.data.includes(255)) return;
  const { data } = textureFill(picture, hole, options);
  for (let i = 0; i < weights.length; i++)
    for (let c = i * 4; weights[i] > 0 && c < i * 4 + 3; c++)
      picture.data[c] += Math.round((weights[i] * (data[c] - picture.data[c])) / 255);
}
