import { smoothFill } from '../fill/smoothFill';
import { cleanEdgeColour } from '../matte/edgeColour';
import { distanceTo } from '../raster/distance';
import { emptyPicture, isDeep, requireSameSize, type DepthMap, type Mask, type Picture } from '../raster/picture';

/** A plate's pixels: whole rows of the picture from `top` on, premultiplied by its matte. */
export interface PlateRaster<P extends Picture> { readonly id: string; readonly top: number; readonly picture: P; readonly depth: DepthMap }

/** What a shot is rendered from: the back plate without the plates that were lifted from it, and those. */
export interface ShotRasters<P extends Picture> {
  readonly picture: P;
  readonly depth: DepthMap;
  /** Where the back plate is filled, 255; undefined where it is whole. */
  readonly hole?: Mask;
  readonly plates: readonly PlateRaster<P>[];
}

/** A plate before it is laid out: coverage and depth over the whole picture. */
export interface CutPlate { readonly id: string; readonly matte: Mask; readonly depth: DepthMap }

/** How far a lifted plate's hole is pushed out so that no rim of it stays behind: it depends on the picture's size, at least 2 px. */
export function holePush(width: number): number {
  return Math.max(2, Math.round(width / 500));
}

/**
 * Lays a shot out in plates. Where plates were lifted the back plate is filled smoothly, colour and depth, from around the hole;
 * the plates take their colours from the source, premultiplied.
 *
 * @param source the picture; premultiplied where it has any transparency
 * @param plates any order; none gives the source back as it is
 * @throws CoreError `size-differs`
 */
export function layOutPlates<P extends Picture>(source: P, depth: DepthMap, plates: readonly CutPlate[]): ShotRasters<P> {
  requireSameSize('The depth map', depth, 'the picture', source);
  if (plates.length === 0) return { picture: source, depth, plates: [] };
  for (const p of plates) { requireSameSize('A matte', p.matte, 'the picture', source); requireSameSize('A plate’s depth map', p.depth, 'the picture', source); }
  return { ...withoutPlates(source, depth, plates), plates: plates.flatMap((p) => liftPlate(source, p)) };
}

/** A piece of a picture, and where it belongs. */
interface Piece { readonly left: number; readonly top: number; readonly picture: Picture }

/** The piece that holds a matte's half-covered pixels in their own colours, worked out once for a matte. */
const cleaned = new WeakMap<Mask, Piece | null>();
/** Pixels around the half-covered ones from which their own colour is learnt. */
const LEARN_AROUND = 12;

function cleanPiece(source: Picture, matte: Mask): Piece | null {
  const known = cleaned.get(matte);
  if (known !== undefined) return known;
  const { width, height } = source;
  let left = width, top = height, right = 0, bottom = 0;
  for (let i = 0, x = 0, y = 0; i < matte.data.length; i++, x++) {
    if (x === width) { x = 0; y++; }
    if (matte.data[i] === 0 || matte.data[i] === 255) continue;
    left = Math.min(left, x); right = Math.max(right, x + 1); top = Math.min(top, y); bottom = y + 1;
  }
  let piece: Piece | null = null;
  if (right > left) {
    left = Math.max(0, left - LEARN_AROUND); top = Math.max(0, top - LEARN_AROUND); right = Math.min(width, right + LEARN_AROUND); bottom = Math.min(height, bottom + LEARN_AROUND);
    const part = emptyPicture(source, right - left, bottom - top), alpha = new Float32Array(part.width * part.height);
    for (let y = 0; y < part.height; y++) {
      const from = (top + y) * width + left;
      part.data.set(source.data.subarray(from * 4, (from + part.width) * 4), y * part.width * 4);
      for (let x = 0; x < part.width; x++) alpha[y * part.width + x] = matte.data[from + x] / 255;
    }
    piece = { left, top, picture: cleanEdgeColour(part, alpha) };
  }
  cleaned.set(matte, piece);
  return piece;
}

/**
 * Rows of the source with their half-covered pixels in the plate's own colour, so that no colour of the old ground travels along.
 * Everything else, alpha too, stays as it is.
 * @param first the first row @default 0
 * @param end the row after the last @default the picture's height
 */
export function cleanColours<P extends Picture>(source: P, matte: Mask, first = 0, end = source.height): P {
  const { width } = source;
  const data = source.data.slice(first * width * 4, end * width * 4);
  const piece = cleanPiece(source, matte);
  if (piece) {
    const { left, top, picture } = piece;
    for (let y = Math.max(first, top); y < Math.min(end, top + picture.height); y++) {
      for (let x = left; x < left + picture.width; x++) {
        const a = matte.data[y * width + x];
        if (a === 0 || a === 255) continue;
        const from = ((y - top) * picture.width + x - left) * 4, to = ((y - first) * width + x) * 4;
        for (let c = 0; c < 3; c++) data[to + c] = picture.data[from + c];
      }
    }
  }
  return { width, height: end - first, data } as unknown as P;
}

/** The rows that a plate covers, its colours (those of the edge cleaned, unless they are already) times its matte. */
export function liftPlate<P extends Picture>(source: P, { id, matte, depth }: CutPlate, clean = true): PlateRaster<P>[] {
  const { width, height } = source;
  const first = matte.data.findIndex((v) => v > 0);
  if (first < 0) return [];
  let last = matte.data.length - 1;
  while (matte.data[last] === 0) last--;
  const top = Math.max(0, Math.floor(first / width) - 1), bottom = Math.min(height, Math.floor(last / width) + 2);
  const data = clean ? cleanColours(source, matte, top, bottom).data : source.data.slice(top * width * 4, bottom * width * 4);
  for (let i = 0, m = top * width; i < data.length; i += 4, m++) {
    const a = matte.data[m];
    if (a === 255) continue;
    for (let c = i; c < i + 4; c++) data[c] = Math.round((data[c] * a) / 255);
  }
  const rows = bottom - top;
  return [{ id, top, picture: { width, height: rows, data } as unknown as P, depth: { width, height: rows, data: depth.data.slice(top * width, bottom * width) } }];
}

function withoutPlates<P extends Picture>(source: P, depth: DepthMap, plates: readonly CutPlate[]): { picture: P; depth: DepthMap; hole: Mask } {
  const { width, height } = source, n = width * height;
  const covered = new Uint8Array(n);
  for (const { matte } of plates) for (let i = 0; i < n; i++) if (matte.data[i] > 0) covered[i] = 255;
  const far = distanceTo({ width, height, data: covered }, true), push = holePush(width);
  // Work on the hole's surroundings only.
  let left = width, top = height, right = 0, bottom = 0;
  const hole = new Uint8Array(n);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (far[i] > push) continue;
      hole[i] = 255;
      left = Math.min(left, x); right = Math.max(right, x + 1); top = Math.min(top, y); bottom = y + 1;
    }
  }
  left = Math.max(0, left - 1); top = Math.max(0, top - 1); right = Math.min(width, right + 1); bottom = Math.min(height, bottom + 1);
  const w = right - left, h = bottom - top;
  const values = new Float32Array(w * h * 5), open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, from = (top + y) * width + left; x < w; x++, i++, from++) {
      open[i] = hole[from] ? 1 : 0;
      for (let c = 0; c < 4; c++) values[i * 5 + c] = source.data[from * 4 + c];
      values[i * 5 + 4] = depth.data[from];
    }
  }
  smoothFill(values, open, w, h, 5);
  const picture = { width, height, data: source.data.slice() } as unknown as P, behind = depth.data.slice(), most = isDeep(source) ? 65535 : 255;
  for (let i = 0; i < open.length; i++) {
    if (!open[i]) continue;
    const to = (top + Math.floor(i / w)) * width + left + (i % w);
    for (let c = 0; c < 4; c++) picture.data[to * 4 + c] = Math.min(most, Math.max(0, Math.round(values[i * 5 + c])));
    behind[to] = Math.min(65535, Math.max(0, Math.round(values[i * 5 + 4])));
  }
  return { picture, depth: { width, height, data: behind }, hole: { width, height, data: hole } };
}
