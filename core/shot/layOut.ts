import type { CutPlate, Painted, PlateRaster, ShotRasters } from './rasters';
import { smoothFill } from '../inpaint/smoothFill';
import {
  copyPicture,
  isDeep,
  requireSameSize,
  type DepthMap,
  type Mask,
  type Picture,
  type Premultiplied,
} from '../raster/picture';
import { hiddenParts, pushedOut, type PartMask } from './hidden';
import { paintPlates } from './paintOn';
import { cleanColours, coveredRect, holePush, liftPlate } from './plates';

/** What belongs to the back plate beside its picture and its depth. */
export interface BackPlate extends Painted {
  /** How far lifted plates' holes are pushed out, raster px. @default by the picture's size: holePush */
  readonly push?: number;
  /** Its depth where plates hide it, once that was painted. */
  readonly behind?: DepthMap;
}

/**
 * Lays a shot out in plates. What was cut from the source leaves a hole in everything behind it, pushed out so that no rim stays:
 * there the plate behind goes on smoothly from around, and depth from the farther side; over that lies what was filled
 * in and painted.
 * A fill shows only where something hides: when its plate is gone it lies waiting.
 *
 * @param source the picture; premultiplied where it has any transparency
 * @param plates from far to near; none gives the source back as it is
 * @throws CoreError `size-differs`
 */
export function layOutPlates<P extends Premultiplied>(
  source: P,
  depth: DepthMap,
  plates: readonly CutPlate[],
  back: BackPlate = {},
): ShotRasters<P> {
  requireSameSize('The depth map', depth, 'the picture', source);
  for (const p of plates) {
    requireSameSize('A matte', p.matte, 'the picture', source);
    requireSameSize('A plate’s depth map', p.depth, 'the picture', source);
  }
  // Only what was cut from the source leaves a hole in it.
  const lifted = plates.filter((p) => !p.picture);
  const push = back.push ?? holePush(source.width);
  const pushed = lifted.map((p) => pushedOut(p.matte, push));
  const hidden = hiddenParts(
    lifted.map((p) => p.matte),
    pushed,
  );
  const ground = lifted.length > 0 ? withoutPlates(source, depth, pushed, back.behind) : { picture: source, depth };
  const bare = {
    ...ground,
    plates: plates.flatMap((p) => {
      const behind = hidden[lifted.indexOf(p)];
      return behind ? goOnBehind(source, p, behind) : liftPlate(source, p);
    }),
  };
  return paintPlates(bare, source, [{ ...back, id: null }, ...plates]);
}

/** The rows of a plate with what it has behind nearer ones. */
function goOnBehind<P extends Premultiplied>(source: P, plate: CutPlate, behind: Mask): PlateRaster<P>[] {
  const { width } = source;
  const { matte } = plate;
  const n = matte.data.length;
  const whole: Mask = { ...matte, data: new Uint8Array(n) };
  for (let i = 0; i < n; i++) whole.data[i] = matte.data[i] | behind.data[i];
  const rect = coveredRect(whole, 1);
  if (!rect) return [];
  const { top, bottom } = rect;
  const rows = bottom - top;
  const most = isDeep(source) ? 65535 : 255;
  const colours = cleanColours(source, matte, top, bottom);
  const hidden = new Uint8Array(rows * width);
  // What is not wholly the plate's own is no ground to go on from.
  const left = Math.max(0, rect.left - 1);
  const right = Math.min(width, rect.right + 1);
  const w = right - left;
  const values = new Float32Array(w * rows * 4);
  const open = new Uint8Array(w * rows);
  for (let y = 0, i = 0; y < rows; y++) {
    for (let x = 0, j = y * width + left; x < w; x++, i++, j++) {
      const at = (top + y) * width + left + x;
      open[i] = matte.data[at] < 255 || behind.data[at] !== 0 ? 1 : 0;
      for (let c = 0; c < 4; c++) values[i * 4 + c] = colours.data[j * 4 + c];
    }
  }
  smoothFill(values, open, { width: w, height: rows, channels: 4 });
  for (let y = 0, i = 0; y < rows; y++) {
    for (let x = 0, j = (y * width + left) * 4; x < w; x++, i++, j += 4) {
      const at = (top + y) * width + left + x;
      const a = matte.data[at] / 255;
      if (behind.data[at] === 0) {
        for (let c = j; c < j + 4; c++) colours.data[c] = Math.round(colours.data[c] * a);
        continue;
      }
      hidden[j >> 2] = 255;
      for (let c = 0; c < 4; c++)
        colours.data[j + c] = c === 3 ? most : Math.min(most, Math.max(0, Math.round(values[i * 4 + c])));
    }
  }
  // Beyond the plate nothing shows.
  for (let y = 0; y < rows; y++) {
    colours.data.fill(0, y * width * 4, (y * width + left) * 4);
    colours.data.fill(0, (y * width + right) * 4, (y + 1) * width * 4);
  }
  return [
    {
      id: plate.id,
      top,
      columns: { left, right },
      picture: colours,
      depth: { width, height: rows, data: plate.depth.data.slice(top * width, bottom * width) },
      hidden: { width, height: rows, data: hidden },
    },
  ];
}

function withoutPlates<P extends Premultiplied>(
  source: P,
  depth: DepthMap,
  pushed: readonly (PartMask | undefined)[],
  painted: DepthMap | undefined,
): { picture: P; depth: DepthMap; hole?: Mask } {
  const { width, height } = source;
  const n = width * height;
  const hole = new Uint8Array(n);
  for (const part of pushed)
    if (part)
      for (let y = 0, i = 0; y < part.height; y++)
        for (let x = 0; x < part.width; x++, i++) if (part.data[i]) hole[(part.top + y) * width + part.left + x] = 255;
  const picture = copyPicture(source);
  const behind = depth.data.slice();
  // Work on the hole's surroundings only.
  const parts = pushed.filter((p) => p !== undefined);
  if (parts.length === 0) return { picture, depth };
  const left = Math.max(0, Math.min(...parts.map((p) => p.left)) - 1);
  const top = Math.max(0, Math.min(...parts.map((p) => p.top)) - 1);
  const right = Math.min(width, Math.max(...parts.map((p) => p.left + p.width)) + 1);
  const bottom = Math.min(height, Math.max(...parts.map((p) => p.top + p.height)) + 1);
  const w = right - left;
  const h = bottom - top;
  const most = isDeep(source) ? 65535 : 255;
  // Transparency travels as a fifth plane, where there is any.
  const planes = isWhole(source, most) ? 4 : 5;
  const values = new Float32Array(w * h * planes);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, from = (top + y) * width + left; x < w; x++, i++, from++) {
      open[i] = hole[from] ? 1 : 0;
      for (let c = 0; c < 3; c++) values[i * planes + c] = source.data[from * 4 + c];
      values[i * planes + 3] = depth.data[from];
      if (planes === 5) values[i * 5 + 4] = source.data[from * 4 + 3];
    }
  }
  smoothFill(values, open, { width: w, height: h, channels: planes });
  for (let i = 0; i < open.length; i++) {
    if (!open[i]) continue;
    const to = (top + Math.floor(i / w)) * width + left + (i % w);
    for (let c = 0; c < 3; c++)
      picture.data[to * 4 + c] = Math.min(most, Math.max(0, Math.round(values[i * planes + c])));
    picture.data[to * 4 + 3] = planes === 5 ? Math.min(most, Math.max(0, Math.round(values[i * 5 + 4]))) : most;
    behind[to] = painted ? painted.data[to] : Math.min(65535, Math.max(0, Math.round(values[i * planes + 3])));
  }
  return { picture, depth: { width, height, data: behind }, hole: { width, height, data: hole } };
}

function isWhole({ data }: Picture, most: number): boolean {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== most) return false;
  return true;
}
