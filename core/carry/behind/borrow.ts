import type { Size } from '../../kind';
import { boundsOf } from '../../raster/bounds';
import type { Rect } from '../../raster/geometry';
import type { RigidMotion } from '../rigidMotion';
import { knownBy, type Source } from './source';

/** What lies behind the plates of a frame, as far as it is known. */
export interface Borrowed extends Size {
  /** Red, green, blue. */
  readonly colours: Float32Array;
  /** 0 to 1. */
  readonly depth: Float32Array;
  /** Where it comes from (`knownBy`); 0 where nothing is known. */
  readonly known: Uint8Array;
}

export const nothingKnown = ({ width, height }: Size): Borrowed => ({
  width,
  height,
  colours: new Float32Array(3 * width * height),
  depth: new Float32Array(width * height),
  known: new Uint8Array(width * height),
});

/** A pixel is laid down as so many to a side, so that a surface that grows has no cracks. */
const PARTS = 2;

/**
 * Takes from one source what a frame wants to know: laid down by geometry, the nearest wins, its colours read between
 * the source's pixels.
 * @param motion from the source to the frame; undefined: nothing has moved
 * @param want 255 where something is wanted; what becomes known is taken out
 * @returns how many pixels became known
 */
export function borrow(into: Borrowed, source: Source, motion: RigidMotion | undefined, want: Uint8Array): number {
  const { from, depth } = laid(source, motion, want);
  const { width } = into;
  const out = new Float64Array(2);
  let found = 0;
  for (let i = 0; i < want.length; i++) {
    const k = from[i];
    if (k < 0 || want[i] === 0) continue;
    let [x, y] = [k % width, Math.floor(k / width)];
    if (motion) {
      // That pixel lands beside the one that is wanted: what lies between the source's pixels is as far beside it.
      motion.move(x + 0.5, y + 0.5, source.depth.data[k] / 65535, out);
      [x, y] = [x - (x + out[0] - (i % width)), y - (y + out[1] - Math.floor(i / width))];
    }
    readColour(source, { x, y, nearest: k }, into.colours, 3 * i);
    into.depth[i] = depth[i];
    into.known[i] = knownBy(source.rank);
    want[i] = 0;
    found++;
  }
  return found;
}

interface Laid {
  /** The source's pixel that came there; -1 where none did. */
  readonly from: Int32Array;
  readonly depth: Float32Array;
}

function laid(
  { depth: { width, height, data }, usable, bounds }: Source,
  motion: RigidMotion | undefined,
  want: Uint8Array,
): Laid {
  const depth = new Float32Array(want.length).fill(-1);
  const from = new Int32Array(want.length).fill(-1);
  if (!motion) {
    for (let i = 0; i < want.length; i++) if (want[i] && usable.data[i]) [from[i], depth[i]] = [i, data[i] / 65535];
    return { from, depth };
  }
  const box = boundsOf(width, height, (i) => want[i] > 0, 1);
  if (!box) return { from, depth };
  const out = new Float64Array(2);
  const part = cameFromWithin(box, motion, bounds);
  for (let y = part.top; y < part.bottom; y++)
    for (let x = part.left, i = y * width + x; x < part.right; x++, i++) {
      if (usable.data[i] === 0) continue;
      const was = data[i] / 65535;
      motion.move(x + 0.5, y + 0.5, was, out);
      const now = motion.depthAfter(was);
      const [toX, toY] = [x + out[0], y + out[1]];
      if (toX < box.left - 1 || toX > box.right || toY < box.top - 1 || toY > box.bottom) continue;
      for (let n = 0; n < PARTS * PARTS; n++) {
        const u = Math.floor(toX + 0.25 + 0.5 * (n & 1));
        const v = Math.floor(toY + 0.25 + 0.5 * (n >> 1));
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const k = v * width + u;
        if (want[k] === 0 || now <= depth[k]) continue;
        depth[k] = now;
        from[k] = i;
      }
    }
  return { from, depth };
}

/** The part of the source from which anything may land in a box: looked at for the nearest and the farthest depth. */
function cameFromWithin(box: Rect, motion: RigidMotion, bounds: Rect): Rect {
  const { width, height } = motion.size;
  const out = new Float64Array(2);
  let [left, top, right, bottom] = [0, 0, 0, 0];
  for (let y = 0; y <= 4; y++)
    for (let x = 0; x <= 4; x++)
      for (const depth of [0, 1]) {
        motion.move((x / 4) * width, (y / 4) * height, depth, out);
        [left, right] = [Math.min(left, out[0]), Math.max(right, out[0])];
        [top, bottom] = [Math.min(top, out[1]), Math.max(bottom, out[1])];
      }
  return {
    left: Math.max(bounds.left, Math.floor(box.left - right - MARGIN)),
    top: Math.max(bounds.top, Math.floor(box.top - bottom - MARGIN)),
    right: Math.min(bounds.right, Math.ceil(box.right - left + MARGIN)),
    bottom: Math.min(bounds.bottom, Math.ceil(box.bottom - top + MARGIN)),
  };
}

/** Between the places that are looked at a motion is not quite straight, px. */
const MARGIN = 4;

interface ReadAt {
  readonly x: number;
  readonly y: number;
  /** The pixel that is read where not all around the place can be borrowed. */
  readonly nearest: number;
}

/** A colour between pixels' middles, bilinear. */
function readColour({ picture, usable }: Source, { x, y, nearest }: ReadAt, out: Float32Array, at: number): void {
  const { width, height, data } = picture;
  const u = Math.min(width - 2, Math.max(0, Math.floor(x)));
  const v = Math.min(height - 2, Math.max(0, Math.floor(y)));
  const i = v * width + u;
  const whole = usable.data[i] && usable.data[i + 1] && usable.data[i + width] && usable.data[i + width + 1];
  const [fx, fy] = [Math.min(1, Math.max(0, x - u)), Math.min(1, Math.max(0, y - v))];
  for (let c = 0; c < 3; c++) {
    if (!whole) {
      out[at + c] = data[4 * nearest + c];
      continue;
    }
    const a = data[4 * i + c] + fx * (data[4 * (i + 1) + c] - data[4 * i + c]);
    const below = 4 * (i + width) + c;
    const b = data[below] + fx * (data[below + 4] - data[below]);
    out[at + c] = a + fy * (b - a);
  }
}
