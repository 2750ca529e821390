import type { Size } from '../kind';

/** One channel of a frame, one value a pixel. */
export interface Plane extends Size {
  readonly data: Float32Array;
}

/** A plane at half its size: the mean over two by two; an odd border is left out. */
export function halfOf({ width, height, data }: Plane): Plane {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0, i = 2 * y * width; x < w; x++, i += 2, o++)
      out[o] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
  return { width: w, height: h, data: out };
}
