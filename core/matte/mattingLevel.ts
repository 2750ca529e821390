import type { Mask, Picture8 } from '../raster/picture';

/** A picture and its trimap around the unsure band, at one size. */
export interface MattingLevel {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Colours, 0 to 255; at half sizes with quarters, sixteenths and so on, all of which floats hold exactly. */
  readonly red: Float32Array;
  readonly green: Float32Array;
  readonly blue: Float32Array;
  /** 1 where coverage is to be solved. */
  readonly unsure: Uint8Array;
  /** How many are. */
  readonly count: number;
  /** Coverage of the sure pixels; one half elsewhere. */
  readonly start: Float32Array;
}

/** The part of a picture that windows with an unsure pixel can reach; undefined where nothing is unsure. */
export function cropToBand(picture: Picture8, trimap: Mask): MattingLevel | undefined {
  const { width, height, data: t } = trimap;
  let left = width;
  let top = height;
  let right = -1;
  let bottom = -1;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (t[i] === 0 || t[i] === 255) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return undefined;
  left = Math.max(0, left - 2);
  top = Math.max(0, top - 2);
  right = Math.min(width, right + 3);
  bottom = Math.min(height, bottom + 3);
  const w = right - left;
  const h = bottom - top;
  const n = w * h;
  const red = new Float32Array(n);
  const green = new Float32Array(n);
  const blue = new Float32Array(n);
  const start = new Float32Array(n);
  const unsure = new Uint8Array(n);
  let count = 0;
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, from = (top + y) * width + left; x < w; x++, i++, from++) {
      red[i] = picture.data[from * 4];
      green[i] = picture.data[from * 4 + 1];
      blue[i] = picture.data[from * 4 + 2];
      if (t[from] === 255) start[i] = 1;
      else if (t[from] !== 0) {
        start[i] = 0.5;
        unsure[i] = 1;
        count++;
      }
    }
  }
  return { left, top, width: w, height: h, red, green, blue, unsure, count, start };
}

/** The level at half its size; undefined where that would be too small or lose all sure pixels. */
export function halve(level: MattingLevel): MattingLevel | undefined {
  const width = Math.ceil(level.width / 2);
  const height = Math.ceil(level.height / 2);
  const n = width * height;
  if (width < 16 || height < 16) return undefined;
  const half = {
    red: new Float32Array(n),
    green: new Float32Array(n),
    blue: new Float32Array(n),
    start: new Float32Array(n),
  };
  const unsure = new Uint8Array(n);
  let count = 0;
  let sides = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const x1 = Math.min(level.width - 1, 2 * x + 1);
      const y1 = Math.min(level.height - 1, 2 * y + 1);
      const four = [
        2 * y * level.width + 2 * x,
        2 * y * level.width + x1,
        y1 * level.width + 2 * x,
        y1 * level.width + x1,
      ];
      for (const name of ['red', 'green', 'blue', 'start'] as const)
        half[name][i] = (level[name][four[0]] + level[name][four[1]] + level[name][four[2]] + level[name][four[3]]) / 4;
      if (half.start[i] === 1 || half.start[i] === 0) sides |= half.start[i] === 1 ? 1 : 2;
      else {
        unsure[i] = 1;
        count++;
      }
    }
  }
  return sides === 3 ? { ...half, unsure, count, width, height, left: 0, top: 0 } : undefined;
}

/** A solution at half the size as a start for the whole one: linear between the four nearest; sure pixels as they are. */
export function enlarge(solved: Float32Array, from: MattingLevel, to: MattingLevel): Float32Array {
  const out = to.start.slice();
  for (let y = 0, i = 0; y < to.height; y++) {
    const v = Math.min(from.height - 1, Math.max(0, (y - 0.5) / 2));
    const y0 = Math.floor(v);
    const y1 = Math.min(from.height - 1, y0 + 1);
    const fy = v - y0;
    for (let x = 0; x < to.width; x++, i++) {
      if (!to.unsure[i]) continue;
      const u = Math.min(from.width - 1, Math.max(0, (x - 0.5) / 2));
      const x0 = Math.floor(u);
      const x1 = Math.min(from.width - 1, x0 + 1);
      const fx = u - x0;
      out[i] =
        (solved[y0 * from.width + x0] * (1 - fx) + solved[y0 * from.width + x1] * fx) * (1 - fy) +
        (solved[y1 * from.width + x0] * (1 - fx) + solved[y1 * from.width + x1] * fx) * fy;
    }
  }
  return out;
}
