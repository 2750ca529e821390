/** Strokes on a picture: per pixel 0 nothing, 1 in, 2 out. */
export interface Strokes {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}
export const STROKE_IN = 1;
export const STROKE_OUT = 2;

/** Strokes at half the size: of what lies on two by two pixels, the first that is stroked says. */
export function halveStrokes({ width, height, data }: Strokes): Strokes {
  const half = { width: (width + 1) >> 1, height: (height + 1) >> 1 };
  const out = new Uint8Array(half.width * half.height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const o = (y >> 1) * half.width + (x >> 1);
      if (data[i] !== 0 && out[o] === 0) out[o] = data[i];
    }
  return { ...half, data: out };
}
