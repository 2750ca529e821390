import type { Rect } from '@/core/raster/geometry';
import type { DepthMap, Mask, Picture8 } from '@/core/raster/picture';
import type { Budget } from '@/core/stereo/parallax';
import { findRim } from '@/core/matte/rim';
import type { Check } from './ways';

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

/**
 * The picture without its colours, mixed with its depth, and the contours of equal parallax: white, every fifth stronger,
 * ink with a white casing on the screen plane.
 */
export function drawDepthOverPicture(
  picture: Picture8,
  depth: DepthMap,
  rect: Rect,
  out: Uint8ClampedArray,
  budget: Budget,
  strength: number,
  stepPx: number,
): void {
  const { width, height } = picture;
  // Which band between two contours a depth lies in, for every possible depth; the sign part marks the screen plane.
  const bands = new Int16Array(65536);
  const sides = new Int8Array(65536);
  for (let d = 0; d < 65536; d++) {
    const p = budget.farPx + ((budget.nearPx - budget.farPx) * d) / 65535;
    bands[d] = Math.floor(p / stepPx);
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

/** Shows a choice: what is not chosen is set back, and the edge is drawn in pale cork. */
export function drawChoice(matte: Mask, rect: Rect, out: Uint8ClampedArray): void {
  setBack(matte, rect, out);
  const { width, height, data } = matte;
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4) {
      const i = y * width + x;
      const inside = data[i] >= 128;
      if (inside === data[x < width - 1 ? i + 1 : i] >= 128 && inside === data[y < height - 1 ? i + width : i] >= 128)
        continue;
      out[o] = 255;
      out[o + 1] = 217;
      out[o + 2] = 160;
    }
  }
}

/** The cut alone on a ground: its colours over it, or its coverage as grey. @param picture with cleaned edge colours */
export function drawOnGround(
  picture: Picture8,
  matte: Mask,
  { ground, colour }: Check,
  rect: Rect,
  out: Uint8ClampedArray,
  behind?: { readonly picture: Picture8; readonly shift: number },
): void {
  const chosen = [1, 3, 5].map((n) => parseInt(colour.slice(n, n + 2), 16) || 0);
  const { width } = matte;
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4) {
      const i = y * width + x;
      const a = matte.data[i];
      const from = behind ? (y * width + Math.min(width - 1, Math.max(0, x - behind.shift))) * 4 : 0;
      const even =
        ground === 'white'
          ? 255
          : ground === 'grey'
            ? 116
            : ground === 'checks'
              ? ((x >> 3) + (y >> 3)) & 1
                ? 150
                : 210
              : 0;
      for (let c = 0; c < 3; c++) {
        const under = behind ? behind.picture.data[from + c] : ground === 'colour' ? chosen[c] : even;
        out[o + c] = ground === 'matte' ? a : (picture.data[i * 4 + c] * a + under * (255 - a)) / 255;
      }
      out[o + 3] = 255;
    }
  }
}

/** Marks in brick where a cut's edge still shows the old background. */
export function markRim(own: Picture8, ground: Picture8, matte: Mask, rect: Rect, out: Uint8ClampedArray): void {
  const { mask } = findRim(own, ground, matte);
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let x = rect.left; x < rect.right; x++, o += 4)
      if (mask.data[y * mask.width + x]) {
        out[o] = 214;
        out[o + 1] = 62;
        out[o + 2] = 34;
      }
  }
}

/**
 * Sets back everything outside a matte: paler and greyer, so that the plate in work is unmistakable.
 * @param warm gives what is inside the colour of cork, where the picture is grey anyway
 */
export function setBack(matte: Mask, rect: Rect, out: Uint8ClampedArray, warm = false): void {
  let o = 0;
  for (let y = rect.top; y < rect.bottom; y++) {
    for (let i = y * matte.width + rect.left; i < y * matte.width + rect.right; i++, o += 4) {
      const away = (255 - matte.data[i]) / 255;
      if (warm) {
        out[o + 1] *= 0.93 + 0.07 * away;
        out[o + 2] *= 0.76 + 0.24 * away;
      }
      if (away === 0) continue;
      const grey = (out[o] * 77 + out[o + 1] * 150 + out[o + 2] * 29) >> 8;
      for (let c = o; c < o + 3; c++) out[c] += ((grey + 116 * 2) / 3 - out[c]) * 0.75 * away;
    }
  }
}

/** Lays stripes (brick and paper, 45 degrees, 5 px) over what a view reveals. */
export function stripeReveal(picture: Picture8, revealed: Mask): void {
  const { width, data: mask } = revealed;
  const { data } = picture;
  for (let i = mask.indexOf(255); i >= 0; i = mask.indexOf(255, i + 1)) {
    const x = i % width;
    const y = (i - x) / width;
    const brick = (x + y) % 10 < 5;
    data[i * 4] = brick ? 154 : 243;
    data[i * 4 + 1] = brick ? 52 : 240;
    data[i * 4 + 2] = brick ? 32 : 234;
    data[i * 4 + 3] = 255;
  }
}
