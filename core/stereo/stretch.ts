import type { DepthMap, Mask } from '../raster/picture';

/** Where a plate's pixels are drawn out like rubber: how many times as wide as they are, at most in any eye; 1 is unstretched. */
export interface Stretch {
  readonly width: number;
  readonly height: number;
  readonly factor: Float32Array;
  readonly worst: { readonly x: number; readonly y: number; readonly factor: number };
}

/** What decides how far pixels are stretched. */
export interface Stretching {
  /** Parallax of the map's white and black, raster px. */
  readonly budget: { readonly nearPx: number; readonly farPx: number };
  /** Jump beyond which a pair tears, raster px. */
  readonly tearPx: number;
  /** Largest distance of an eye from the source, 0.5 for a centre source, 1 for one at an end. */
  readonly reach: number;
  /** Only pixels that it covers by half or more count. @default all */
  readonly cover?: Mask;
}

/**
 * How far neighbouring pixels that stay joined move apart in the outermost views. Pairs that tear are not stretched.
 */
export function stretchOf({ width, height, data }: DepthMap, { budget, tearPx, reach, cover }: Stretching): Stretch {
  const factor = new Float32Array(width * height).fill(1);
  const slope = (budget.nearPx - budget.farPx) / 65535;
  let worst = { x: 0, y: 0, factor: 1 };
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width; x < width - 1; x++, i++) {
      if (cover && (cover.data[i] < 128 || cover.data[i + 1] < 128)) continue;
      const jump = Math.abs(slope * (data[i + 1] - data[i]));
      if (jump > tearPx) continue;
      const f = 1 + jump * reach;
      if (f > factor[i]) factor[i] = f;
      if (f > factor[i + 1]) factor[i + 1] = f;
      if (f > worst.factor) worst = { x, y, factor: f };
    }
  }
  return { width, height, factor, worst };
}
