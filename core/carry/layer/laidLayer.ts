import { boxMean } from '../../raster/box';
import { clipRect, type Rect } from '../../raster/geometry';
import type { Picture8 } from '../../raster/picture';
import { placeInKey, type LayerPose } from './layerPose';
import type { Template } from './template';

/** A cut-out laid where it was found, in a part of the frame. */
export interface LaidLayer {
  readonly rect: Rect;
  /** What it would cover if nothing hid it, 0 to 1 a pixel of the part. */
  readonly whole: Float32Array;
  /** What is seen of it. */
  readonly seen: Float32Array;
  /** Share of what it would cover whose colours agree. */
  readonly agrees: number;
}

/** Colours that are off by less in the mean over 3 x 3 are the layer's own, grey levels. */
const OWN = 16;
/**
 * And by less than so many times what is usual in this frame, but never more than this: the whole layer may be
 * hidden.
 */
const USUAL = 3;
const MOST = 32;
/** A pixel this far inside has no colours of what lies behind it. */
const INSIDE = 0.98;
/** What hides it, or comes out again, is at least so wide, px to both sides. */
const SPECK = 2;
/** A pattern may shift on its layer by so much, px. */
const SHIFTS = 1;

/** Lays a cut-out over a frame; what has other colours there is taken to be in front of it. */
export function laidLayer(template: Template, frame: Picture8, pose: LayerPose): LaidLayer | undefined {
  const rect = rectIn(template, pose, frame);
  if (!rect) return undefined;
  const [width, height] = [rect.right - rect.left, rect.bottom - rect.top];
  const whole = new Float32Array(width * height);
  const off = new Float32Array(width * height);
  const inside = new Float32Array(width * height);
  const key = template.picture;
  const out = new Float64Array(2);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      placeInKey(pose, rect.left + x - template.x, rect.top + y - template.y, out);
      const [u, v] = [out[0] + template.x, out[1] + template.y];
      const near = corners(key, u, v);
      if (!near) continue;
      whole[i] = mixed(template.matte.data, near, 1, 0) / 255;
      if (whole[i] < INSIDE) continue;
      inside[i] = 1;
      const at = 4 * ((rect.top + y) * frame.width + rect.left + x);
      off[i] = beyond(frame.data, at, key, near.at);
    }
  const around = coloursAround(frame, rect, whole);
  const seen = seenOf({ whole, off, inside }, width, height, (i) =>
    around.has(cellOf(frame.data, placeOf(i, rect, frame.width))),
  );
  let [sum, all] = [0, 0];
  for (let i = 0; i < whole.length; i++) {
    sum += seen[i];
    all += whole[i];
  }
  return { rect, whole, seen, agrees: all > 0 ? sum / all : 0 };
}

/**
 * How far a colour lies outside of what the key has within a few px, grey levels in the mean over the channels: a
 * layer turns and
 * its pattern shifts a little, without anything being in front of it.
 */
function beyond(data: Picture8['data'], at: number, key: Picture8, middle: number): number {
  const x = middle % key.width;
  const y = (middle - x) / key.width;
  let sum = 0;
  for (let channel = 0; channel < 3; channel++) {
    let [low, high] = [255, 0];
    for (let v = Math.max(0, y - SHIFTS); v <= Math.min(key.height - 1, y + SHIFTS + 1); v++)
      for (let u = Math.max(0, x - SHIFTS); u <= Math.min(key.width - 1, x + SHIFTS + 1); u++) {
        const value = key.data[4 * (v * key.width + u) + channel];
        if (value < low) low = value;
        if (value > high) high = value;
      }
    const value = data[at + channel];
    sum += Math.max(0, low - value, value - high);
  }
  return sum / 3;
}

/** Colours of what may hide a layer lie so far beside it, px. */
const [NEAREST, FARTHEST] = [4, 20];
/** A colour is there that so many pixels have. */
const RARE = 3;

const placeOf = (i: number, { left, top, right }: Rect, width: number): number => {
  const x = i % (right - left);
  return 4 * ((top + (i - x) / (right - left)) * width + left + x);
};

/** One of 16 steps of each channel. */
const cellOf = (data: Picture8['data'], at: number): number =>
  ((data[at] >> 4) << 8) | ((data[at + 1] >> 4) << 4) | (data[at + 2] >> 4);

/**
 * The colours around a layer, with their neighbours: one that only lies on the layer is a light or a shadow that fell
 * on it.
 */
function coloursAround(frame: Picture8, rect: Rect, whole: Float32Array): ReadonlySet<number> {
  const size = { width: rect.right - rect.left, height: rect.bottom - rect.top };
  const part = {
    left: Math.max(0, rect.left - FARTHEST),
    top: Math.max(0, rect.top - FARTHEST),
    right: Math.min(frame.width, rect.right + FARTHEST),
    bottom: Math.min(frame.height, rect.bottom + FARTHEST),
  };
  const wide = part.right - part.left;
  const layer = new Float32Array(wide * (part.bottom - part.top));
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++)
      layer[(rect.top - part.top + y) * wide + rect.left - part.left + x] = whole[y * size.width + x] > 0 ? 1 : 0;
  const [near, far] = [NEAREST, FARTHEST].map((r) => boxMean(layer, wide, part.bottom - part.top, r));
  const counts = new Map<number, number>();
  for (let i = 0; i < layer.length; i++) {
    if (near[i] > 1e-6 || far[i] < 1e-6) continue;
    const cell = cellOf(frame.data, placeOf(i, part, frame.width));
    counts.set(cell, (counts.get(cell) ?? 0) + 1);
  }
  const cells = new Set<number>();
  for (const [cell, count] of counts) {
    if (count < RARE) continue;
    for (let n = 0; n < 27; n++) {
      const [r, g, b] = [
        (cell >> 8) + (n % 3) - 1,
        ((cell >> 4) & 15) + (((n / 3) | 0) % 3) - 1,
        (cell & 15) + ((n / 9) | 0) - 1,
      ];
      if (Math.min(r, g, b) >= 0 && Math.max(r, g, b) < 16) cells.add((r << 8) | (g << 4) | b);
    }
  }
  return cells;
}

interface Compared {
  readonly whole: Float32Array;
  readonly off: Float32Array;
  readonly inside: Float32Array;
}

/** What is seen: colours decide inside, and at the soft edge what is beside it. */
function seenOf(
  { whole, off, inside }: Compared,
  width: number,
  height: number,
  others: (i: number) => boolean,
): Float32Array {
  const count = boxMean(inside, width, height, 1);
  const mean = boxMean(off, width, height, 1);
  const at: number[] = [];
  for (let i = 0; i < inside.length; i++) if (inside[i] === 1) at.push(mean[i] / count[i]);
  const usual = Float64Array.from(at).sort()[at.length >> 1] ?? 0;
  const limit = Math.min(MOST, Math.max(OWN, USUAL * usual));
  const hidden = new Float32Array(inside.length);
  for (let i = 0; i < hidden.length; i++) if (inside[i] === 1 && mean[i] > limit * count[i] && others(i)) hidden[i] = 1;
  // The majority of what lies around; at the edge, whose own colours are mixed, of what lies inside.
  const [more, many] = [boxMean(hidden, width, height, SPECK), boxMean(inside, width, height, SPECK)];
  return whole.map((v, i) => {
    if (v === 0) return 0;
    return many[i] > 0 && more[i] > 0.5 * many[i] ? 0 : v;
  });
}

/** The part of the frame that a layer may touch. */
function rectIn(template: Template, pose: LayerPose, { width, height }: Picture8): Rect | undefined {
  const { rect, x, y } = template;
  const [w, h] = [(rect.right - rect.left) / 2, (rect.bottom - rect.top) / 2];
  const [g, r] = [Math.abs(1 + pose.grow), Math.abs(pose.turn)];
  const [across, down] = [g * w + r * h + 1, r * w + g * h + 1];
  return clipRect(
    {
      left: x + pose.dx - across,
      right: x + pose.dx + across + 1,
      top: y + pose.dy - down,
      bottom: y + pose.dy + down + 1,
    },
    width,
    height,
  );
}

interface Corners {
  readonly at: number;
  readonly width: number;
  readonly fx: number;
  readonly fy: number;
}

/** The four pixels around a place; undefined beyond the picture. */
function corners({ width, height }: Picture8, u: number, v: number): Corners | undefined {
  if (u < -0.5 || v < -0.5 || u > width - 0.5 || v > height - 0.5) return undefined;
  const x = Math.min(width - 2, Math.max(0, Math.floor(u)));
  const y = Math.min(height - 2, Math.max(0, Math.floor(v)));
  return { at: y * width + x, width, fx: Math.min(1, Math.max(0, u - x)), fy: Math.min(1, Math.max(0, v - y)) };
}

/** A channel between them. */
function mixed(
  data: Uint8Array | Uint8ClampedArray,
  { at, width, fx, fy }: Corners,
  step: number,
  channel: number,
): number {
  const i = at * step + channel;
  const a = data[i] + fx * (data[i + step] - data[i]);
  const b = data[i + width * step] + fx * (data[i + (width + 1) * step] - data[i + width * step]);
  return a + fy * (b - a);
}
