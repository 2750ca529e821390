import type { Rect } from '../../raster/geometry';
import { DRY, TORN, type MovedView } from '../openMove';
import type { Premultiplied8 } from '../../raster/picture';
import { PLATE_STEP } from './guardRasters';

/** Sides of a frame. */
export const SIDES = ['left', 'right', 'top', 'bottom'] as const;
export type Side = (typeof SIDES)[number];

/** Something that was found: how much, and where in what is seen, px of the source. */
export interface Found {
  readonly px: number;
  readonly at?: Rect;
}

/** What the guard has seen in one eye at one frame; lengths in px of the source. */
export interface FrameFacts {
  /** How far the border runs dry from each side. */
  readonly dry: Readonly<Record<Side, number>>;
  /** Px that are open behind each plate, by its place among the drawn ones; 0 the back plate. */
  readonly open: ReadonlyMap<number, Found>;
  /** Width of the widest gap that a tear has opened. */
  readonly torn: Found;
  /** The longest that a surface is drawn out across a step of its depth that does not tear; undefined where none is. */
  readonly stretched?: Found & { readonly plate: number };
}

/**
 * What is wrong in a frame of guard rasters.
 * @param scale px of the view a px of the source
 * @param from where what is seen begins, px of the source
 */
export function frameFacts(
  { picture, state }: MovedView<Premultiplied8>,
  scale: number,
  from: Pick<Rect, 'left' | 'top'>,
): FrameFacts {
  const { left, top } = from;
  const { width, height, data } = picture;
  const boxes = new Map<number, { count: number; left: number; top: number; right: number; bottom: number }>();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (data[i * 4] < 128) continue;
      const plate = Math.round(data[i * 4 + 1] / PLATE_STEP) - 1;
      const box = boxes.get(plate) ?? { count: 0, left: x, top: y, right: x, bottom: y };
      boxes.set(plate, {
        count: box.count + 1,
        left: Math.min(box.left, x),
        top: Math.min(box.top, y),
        right: Math.max(box.right, x + 1),
        bottom: Math.max(box.bottom, y + 1),
      });
    }
  const inSource = (r: Rect): Rect => ({
    left: left + r.left / scale,
    top: top + r.top / scale,
    right: left + r.right / scale,
    bottom: top + r.bottom / scale,
  });
  const open = new Map<number, Found>();
  for (const [plate, { count, ...box }] of boxes)
    open.set(plate, { px: Math.round(count / (scale * scale)), at: inSource(box) });
  const dry = dryDepths(state.data, width, height);
  for (const side of SIDES) dry[side] = Math.round((dry[side] / scale) * 10) / 10;
  const tear = widestTear(state.data, width, height);
  return { dry, open, torn: { px: tear.px / scale, ...(tear.at ? { at: inSource(tear.at) } : {}) } };
}

/** How far in from each side it is dry without a gap. */
function dryDepths(state: Uint8Array, width: number, height: number): Record<Side, number> {
  const dry = { left: 0, right: 0, top: 0, bottom: 0 };
  const run = (length: number, isDry: (n: number) => boolean): number => {
    let n = 0;
    while (n < length && isDry(n)) n++;
    return n;
  };
  const runs: Record<Side, readonly number[]> = {
    left: Array.from({ length: height }, (_, y) => run(width, (n) => state[y * width + n] === DRY)),
    right: Array.from({ length: height }, (_, y) => run(width, (n) => state[(y + 1) * width - 1 - n] === DRY)),
    top: Array.from({ length: width }, (_, x) => run(height, (n) => state[n * width + x] === DRY)),
    bottom: Array.from({ length: width }, (_, x) => run(height, (n) => state[(height - 1 - n) * width + x] === DRY)),
  };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (state[i] !== DRY) continue;
      const from = { left: x + 1, right: width - x, top: y + 1, bottom: height - y };
      // Of a strip along one side, the corner belongs to that side too: its run is the shorter one.
      const along = { left: runs.left[y], right: runs.right[y], top: runs.top[x], bottom: runs.bottom[x] };
      let found: Side | undefined;
      for (const side of SIDES) if (from[side] <= along[side] && (!found || along[side] < along[found])) found = side;
      if (found) dry[found] = Math.max(dry[found], from[found]);
    }
  return dry;
}

/** How wide the widest gap is: twice how far its innermost pixel lies from what is seen, counted across, down and aslant. */
function widestTear(state: Uint8Array, width: number, height: number): Found {
  const depth = new Uint16Array(width * height);
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : depth[y * width + x]);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (state[i] === TORN) depth[i] = 1 + Math.min(at(x - 1, y), at(x - 1, y - 1), at(x, y - 1), at(x + 1, y - 1));
  let most = 0;
  let innermost = 0;
  for (let y = height - 1, i = width * height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--, i--) {
      if (depth[i] === 0) continue;
      depth[i] = Math.min(depth[i], 1 + Math.min(at(x + 1, y), at(x + 1, y + 1), at(x, y + 1), at(x - 1, y + 1)));
      if (depth[i] > most) [most, innermost] = [depth[i], i];
    }
  if (most === 0) return { px: 0 };
  const [x, y] = [innermost % width, Math.floor(innermost / width)];
  return { px: 2 * most - 1, at: { left: x - most, top: y - most, right: x + most, bottom: y + most } };
}
