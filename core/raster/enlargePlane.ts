import type { Size } from '../kind';

/** One channel at a larger size: bilinear between its pixels' middles. */
export function enlargePlane(plane: Float32Array, { width, height }: Size, to: Size): Float32Array {
  if (width === to.width && height === to.height) return plane.slice();
  const out = new Float32Array(to.width * to.height);
  const columns = Array.from({ length: to.width }, (_, x) => {
    const u = Math.min(width - 1, Math.max(0, ((x + 0.5) * width) / to.width - 0.5));
    return { at: Math.min(width - 2, Math.floor(u)), share: u - Math.min(width - 2, Math.floor(u)) };
  });
  for (let y = 0, i = 0; y < to.height; y++) {
    const v = Math.min(height - 1, Math.max(0, ((y + 0.5) * height) / to.height - 0.5));
    const top = Math.max(0, Math.min(height - 2, Math.floor(v)));
    const below = Math.min(height - 1, top + 1);
    const f = v - top;
    for (let x = 0; x < to.width; x++, i++) {
      const { at, share } = columns[x];
      const left = Math.max(0, at);
      const right = Math.min(width - 1, left + 1);
      const a = plane[top * width + left] + share * (plane[top * width + right] - plane[top * width + left]);
      const b = plane[below * width + left] + share * (plane[below * width + right] - plane[below * width + left]);
      out[i] = a + f * (b - a);
    }
  }
  return out;
}
