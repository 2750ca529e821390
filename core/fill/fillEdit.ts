import { z } from 'zod';
import { CoreError } from '../error';
import { boundsOf, type Bounds } from '../raster/bounds';
import { cropPicture } from '../raster/crop';
import { isDeep, type Mask, type Picture } from '../raster/picture';
import { brushAlong, drawClone } from './clone';
import { drawLine } from './continueLine';
import { copiedPiece } from './copyPiece';
import { seamlessClone } from './seamlessClone';

const place = z.number().min(-1e5).max(1e5);
const point = z.strictObject({ x: place, y: place });
const points = z.array(point).min(1).max(5000);
const stroke = { size: z.number().min(1).max(2000), hardness: z.number().min(0).max(1), points };

/** What is done by hand to what was filled in; full-size px. */
export const fillEditSchema = z.discriminatedUnion('kind', [
  /**
   * Copies what lies `dx`, `dy` away, seen from the stroke's first point turned, scaled and flipped; of several sources each dab takes
   * the next. `jitter` moves the source of each dab by up to so many px, by `seed`, against repetition. `seamless` matches the gradients.
   */
  z.strictObject({
    kind: z.literal('clone'),
    ...stroke,
    strength: z.number().min(0.01).max(1),
    sources: z
      .array(z.strictObject({ dx: place, dy: place }))
      .min(1)
      .max(8),
    scale: z.number().min(0.1).max(10),
    turn: z.number().min(-360).max(360),
    flip: z.boolean(),
    jitter: z.number().min(0).max(500),
    seed: z.number().int().min(0).max(1e9),
    seamless: z.boolean(),
    beyond: z.boolean(),
  }),
  /** Takes back what was filled in. */
  z.strictObject({ kind: z.literal('erase'), ...stroke, strength: z.number().min(0.01).max(1) }),
  /** Copies what an outline holds to where its bounding box's corners (from upper left, clockwise) come to lie. */
  z.strictObject({
    kind: z.literal('copy'),
    points: z.array(point).min(3).max(5000),
    corners: z.tuple([point, point, point, point]),
    soft: z.number().min(0).max(100),
    seamless: z.boolean(),
    beyond: z.boolean(),
  }),
  /** Continues what crosses the ends of a line, along it, `width` px wide. */
  z.strictObject({
    kind: z.literal('line'),
    from: point,
    to: point,
    width: z.number().min(2).max(1000),
    beyond: z.boolean(),
  }),
]);
export type FillEdit = z.infer<typeof fillEditSchema>;

/** A plate as it stands, hidden part and all, and where it may be filled; full-size (x, y) lies at ((x - left) * scale, (y - top) * scale). */
export interface FillGround {
  readonly picture: Picture;
  readonly hidden: Mask;
  readonly left: number;
  readonly top: number;
  readonly scale: number;
}

/** What an edit writes into: RGBA straight alpha, of the ground's size and bits. */
export interface FillTargets {
  /** Where nearer plates hide the plate. */
  readonly fill: Picture;
  /** Over its own pixels; only edits that may go beyond the hidden part land there. */
  readonly overpaint: Picture;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}
export type Edit<K extends FillEdit['kind']> = Extract<FillEdit, { kind: K }>;

/**
 * Does an edit by hand to what was filled in and painted, in place. What is taken is the ground as it was before. Lands in the hidden
 * part only, unless it may go beyond. Works in the rectangle that the edit can reach, so that a stroke costs as much as it is large.
 * @param before is told the rectangle before anything in it is changed
 * @returns the rectangle that was touched
 * @throws CoreError `missed` where nothing lands; `flat`; `too-short`
 */
export function applyFillEdit(
  ground: FillGround,
  { fill, overpaint }: FillTargets,
  edit: FillEdit,
  before?: (rect: Bounds) => void,
): Bounds {
  const { picture, hidden } = ground;
  const { width } = picture;
  const most = isDeep(picture) ? 65535 : 255;
  const missed = new CoreError(
    'missed',
    'Nothing landed: only what lies behind nearer plates is filled. Paint there, or let the stroke go beyond it.',
  );
  const here = (p: Place): Place => ({ x: (p.x - ground.left) * ground.scale, y: (p.y - ground.top) * ground.scale });
  const shape = edit.kind === 'copy' ? copiedPiece(edit, here, ground.scale) : brushed(edit, here, ground.scale);
  const window = clip(shape.reach, picture);
  if (!window) throw missed;
  const mask = shape.cover(window);
  const w = window.right - window.left;
  if (edit.kind !== 'erase' && !edit.beyond) {
    for (let i = 0, y = window.top; y < window.bottom; y++)
      for (let x = window.left; x < window.right; x++, i++) if (hidden.data[y * width + x] === 0) mask[i] = 0;
  }
  const part = boundsOf(w, window.bottom - window.top, (i) => mask[i] !== 0);
  if (!part) throw missed;
  const within: Bounds = {
    left: part.left + window.left,
    top: part.top + window.top,
    right: part.right + window.left,
    bottom: part.bottom + window.top,
  };
  /** For each pixel that is changed: where it lies on the ground and in the window, and how strongly. */
  const each = (work: (i: number, k: number, cover: number) => void): void => {
    for (let y = within.top; y < within.bottom; y++) {
      for (
        let x = within.left, i = y * width + x, k = (y - window.top) * w + x - window.left;
        x < within.right;
        x++, i++, k++
      )
        if (mask[k]) work(i, k, mask[k] / 255);
    }
  };
  if (edit.kind === 'erase') {
    before?.(within);
    each((i, _k, a) => {
      for (const one of [fill, overpaint]) one.data[i * 4 + 3] = Math.round(one.data[i * 4 + 3] * (1 - a));
    });
    return within;
  }
  const piece = cropPicture(picture, window);
  if (edit.kind === 'clone') drawClone(ground, edit, here, window, mask, piece);
  else if (edit.kind === 'line') drawLine(ground, edit, here, window, piece);
  else copiedPiece(edit, here, ground.scale).draw(picture, window, piece);
  if (edit.kind !== 'line' && edit.seamless) {
    const met = cropPicture(picture, window);
    const inside: Mask = { width: w, height: met.height, data: mask.map((v) => (v >= 128 ? 255 : 0)) };
    seamlessClone(met, piece, inside);
    each((_i, k, a) => {
      if (a >= 0.5) for (let c = k * 4; c < k * 4 + 3; c++) piece.data[c] = met.data[c];
    });
  }
  before?.(within);
  each((i, k, a) => {
    const to = hidden.data[i] ? fill : overpaint;
    // Over what shows there now, so that soft edges meet it.
    for (let c = 0; c < 3; c++)
      to.data[i * 4 + c] = Math.round(picture.data[i * 4 + c] * (1 - a) + piece.data[k * 4 + c] * a);
    to.data[i * 4 + 3] = most;
  });
  return within;
}

/** What an edit covers: how far it reaches, and how strongly it covers each pixel of a window, 0 to 255. Raster px. */
export interface Shape {
  readonly reach: Bounds;
  cover(window: Bounds): Uint8Array;
}

/** Around it a seamless piece is set against the picture, px. */
const RING = 2;

function brushed(edit: Exclude<FillEdit, { kind: 'copy' }>, here: (p: Place) => Place, scale: number): Shape {
  const {
    size,
    hardness,
    strength,
    points: along,
  } = edit.kind === 'line' ? { size: edit.width, hardness: 0.6, strength: 1, points: [edit.from, edit.to] } : edit;
  const path = along.map(here);
  const radius = (size / 2) * scale;
  const xs = path.map((p) => p.x);
  const ys = path.map((p) => p.y);
  const room = radius + RING;
  return {
    reach: {
      left: Math.floor(Math.min(...xs) - room),
      top: Math.floor(Math.min(...ys) - room),
      right: Math.ceil(Math.max(...xs) + room),
      bottom: Math.ceil(Math.max(...ys) + room),
    },
    cover: (window) => brushAlong(path, radius, hardness, strength, window),
  };
}

function clip({ left, top, right, bottom }: Bounds, { width, height }: Picture): Bounds | undefined {
  const rect = {
    left: Math.max(0, left),
    top: Math.max(0, top),
    right: Math.min(width, right),
    bottom: Math.min(height, bottom),
  };
  return rect.left < rect.right && rect.top < rect.bottom ? rect : undefined;
}
