import { distanceTo } from '../../raster/distance';
import type { Mask } from '../../raster/picture';
import type { RigidMotion } from '../rigidMotion';
import type { BehindFrame } from './frames';
import type { Source } from './source';

/** Colours are compared within so many px around what is wanted, as part of the width; but within so many at the least. */
const AROUND = 1 / 48;
const LEAST_AROUND = 8;
/** So many pixels must be seen in both: beside what is hidden, or else anywhere. */
const FEWEST = 30;
/** Every so many-th pixel both ways tells enough. */
const STEP = 3;
/** Depths that differ by less are of the same thing, of all depth. */
const SAME = 0.02;
/** Differences beyond it are of two things, not of the light, grey levels. */
const LIGHT = 64;

/** What lies so near to what is hidden that it tells of the light there, 255. */
export function besideHole(hole: Mask): Uint8Array {
  const reach = Math.max(LEAST_AROUND, hole.width * AROUND);
  const away = distanceTo(hole, true);
  return hole.data.map((v, i) => (v === 0 && away[i] <= reach ? 255 : 0));
}

/** By how much a frame is lighter, each channel. */
type Differences = [number[], number[], number[]];

/**
 * By how much a source is darker than a frame beside what it is asked for, each channel: the light may have changed
 * between them. The median, so that what moves there has no say.
 * @param beside what is compared, 255
 */
export function lightBeside(
  { picture, depth }: Pick<BehindFrame, 'picture' | 'depth'>,
  beside: Uint8Array,
  { picture: from, depth: { data }, usable, bounds }: Source,
  motion: RigidMotion | undefined,
): readonly [number, number, number] {
  const { width, height } = picture;
  const [near, all]: Differences[] = [
    [[], [], []],
    [[], [], []],
  ];
  const out = new Float64Array(2);
  for (let y = bounds.top; y < bounds.bottom; y += STEP)
    for (let x = bounds.left; x < bounds.right; x += STEP) {
      const i = y * width + x;
      if (usable.data[i] === 0) continue;
      const was = data[i] / 65535;
      motion?.move(x + 0.5, y + 0.5, was, out);
      const [u, v] = [Math.round(x + out[0]), Math.round(y + out[1])];
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const k = v * width + u;
      // What lies at another depth there is another thing, in front of it.
      if (Math.abs(depth.data[k] / 65535 - (motion?.depthAfter(was) ?? was)) > SAME) continue;
      const by = [0, 1, 2].map((c) => picture.data[4 * k + c] - from.data[4 * i + c]);
      if (by.some((value) => Math.abs(value) >= LIGHT)) continue;
      for (const differences of beside[k] > 0 ? [near, all] : [all]) by.forEach((v, c) => differences[c].push(v));
    }
  const tells = near[0].length < FEWEST ? all : near;
  if (tells[0].length < FEWEST) return [0, 0, 0];
  const [red, green, blue] = tells.map((values) => Float64Array.from(values).sort()[values.length >> 1]);
  return [red, green, blue];
}
