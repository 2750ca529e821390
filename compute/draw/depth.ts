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

type RGB = readonly [number, number, number];
/** Bands in front of the screen, and behind it: the nearer or the farther, the stronger. */
const FRONT: readonly RGB[] = [
  [244, 214, 178],
  [226, 172, 112],
  [196, 122, 64],
  [150, 70, 40],
];
const BEHIND: readonly RGB[] = [
  [206, 226, 214],
  [150, 190, 176],
  [88, 142, 134],
  [38, 92, 96],
];
/** A relief's slope is as steep as its light where parallax changes by so much from px to px. */
const STEEP_PX = 0.6;
const RELIEF_LIGHT = 315;

/**
 * The picture without its colours, mixed with its depth, and the contours of equal parallax: white, every fifth stronger,
 * ink with a white casing on the screen plane. Or with coloured bands of equal parallax in the place of depth, or with its depth as a
 * surface that a slanting light falls on.
 */
export function drawDepthOverPicture(
  { picture, depth, budget }: PictureWithDepth,
  over: DepthOver,
  rect: Rect,
  out: Uint8ClampedArray,
): void {
  const { strength, contourPx, shown = 'contours' } = over;
  const { width, height } = picture;
  // Which band between two contours a depth lies in, for every possible depth; the sign part marks the screen plane.
  const bands = new Int16Array(65536);
  const sides = new Int8Array(65536);
  for (let d = 0; d < 65536; d++) {
    const p = budget.farPx + ((budget.nearPx - budget.farPx) * d) / 65535;
    bands[d] = Math.floor(p / contourPx);
    sides[d] = p < 0 ? 1 : 0;
  }
  const shade = shown === 'relief' ? reliefOf(depth, budget, over) : undefined;
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
      const band = bands[d];
      out[o + 3] = 255;
      if (shown === 'bands') {
        const [r, g, b] = sides[d] ? bandOf(FRONT, -1 - band) : bandOf(BEHIND, band);
        // The picture's light and dark stay in the bands.
        const light = 0.55 + (0.45 * grey) / 255;
        out[o] = grey + (r * light - grey) * strength;
        out[o + 1] = grey + (g * light - grey) * strength;
        out[o + 2] = grey + (b * light - grey) * strength;
        continue;
      }
      let v = grey + ((shade ? shade(x, y) : d >>> 8) - grey) * strength;
      if (sides[d] !== sides[dr] || sides[d] !== sides[db]) v = 20;
      else if (band !== bands[dr] || band !== bands[db]) {
        const other = band !== bands[dr] ? bands[dr] : bands[db];
        const fifth = Math.max(band, other) % 5 === 0;
        v += ((fifth ? 255 : 235) - v) * (fifth ? 0.95 : 0.5);
      }
      out[o] = out[o + 1] = out[o + 2] = v;
    }
  }
}

const bandOf = (colours: readonly RGB[], n: number): RGB => colours[Math.max(0, n) % colours.length];

/** How light a place of the map is, as a surface of its parallax, 0 to 255 (a matt surface: cosine of the angle of the light). */
function reliefOf(
  { width, height, data }: DepthMap,
  { nearPx, farPx }: Budget,
  { lightDeg = RELIEF_LIGHT }: DepthOver,
): (x: number, y: number) => number {
  const turn = (lightDeg * Math.PI) / 180;
  const [lx, ly] = [Math.sin(turn), -Math.cos(turn)];
  const scale = Math.abs(nearPx - farPx) / 65535 / STEEP_PX;
  return (x, y) => {
    const i = y * width + x;
    const left = x > 0 ? i - 1 : i;
    const right = x < width - 1 ? i + 1 : i;
    const above = y > 0 ? i - width : i;
    const below = y < height - 1 ? i + width : i;
    const sx = ((data[right] - data[left]) * scale) / 2;
    const sy = ((data[below] - data[above]) * scale) / 2;
    const facing = (1 - (sx * lx + sy * ly)) / Math.sqrt(2 * (1 + sx * sx + sy * sy));
    return 255 * Math.min(1, Math.max(0, facing));
  };
}
