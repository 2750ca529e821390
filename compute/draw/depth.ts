import type { Rect } from '@/core/raster/geometry';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import type { Budget } from '@/core/stereo/parallax';
import type { DepthOver } from '../look';

/** Depth as grey, white near. */
export function drawDepth(depth: DepthMap, rect: Rect, out: Uint8ClampedArray): void {
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let i = y * depth.width + rect.left; i < y * depth.width + rect.right; i++, o += 4) {
      out[o] = out[o + 1] = out[o + 2] = depth.data[i] >>> 8;
      out[o + 3] = 255;
    }
  }
}

/** A picture with its depth on the ruler, and the budget that depth is seen through. */
export interface PictureWithDepth {
  readonly picture: Picture8;
  readonly depth: DepthMap;
  readonly budget: Budget;
}

/**
 * The picture without its colours, mixed with its depth, and the contours of equal parallax: white, every fifth stronger,
 * ink with a white casing on the screen plane.
 */
export function drawDepthOverPicture(
  { picture, depth, budget }: PictureWithDepth,
  { strength, contourPx }: DepthOver,
  rect: Rect,
  out: Uint8ClampedArray,
): void {
  const { width, height } = picture;
  // Which band between two contours a depth lies in, for every possible depth; the sign part marks the screen plane.
  const bands = new Int16Array(65536);
  const sides = new Int8Array(65536);
  for (let d = 0; d < 65536; d++) {
    const p = budget.farPx + ((budget.nearPx - budget.farPx) * d) / 65535;
    bands[d] = Math.floor(p / contourPx);
    sides[d] = p < 0 ? 1 : 0;
  }
  const p8 = picture.data;
  const d16 = depth.data;
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    const below = y < height - 1 ? width : 0;
    for (let x = rect.left; x < rect.right; x++, o += 4) {
      const i = y * width + x;
      const d = d16[i];
      const dr = d16[x < width - 1 ? i + 1 : i];
      const db = d16[i + below];
      const grey = (p8[i * 4] * 77 + p8[i * 4 + 1] * 150 + p8[i * 4 + 2] * 29) >> 8;
      let v = grey + ((d >>> 8) - grey) * strength;
      const band = bands[d];
      if (sides[d] !== sides[dr] || sides[d] !== sides[db]) v = 20;
      else if (band !== bands[dr] || band !== bands[db]) {
        const other = band !== bands[dr] ? bands[dr] : bands[db];
        const fifth = Math.max(band, other) % 5 === 0;
        v += ((fifth ? 255 : 235) - v) * (fifth ? 0.95 : 0.5);
      }
      out[o] = out[o + 1] = out[o + 2] = v;
      out[o + 3] = 255;
    }
  }
}
