import { z } from 'zod';
import { CoreError } from '../../error';
import type { KindOf } from '../../kind';
import { seamlessClone } from '../../inpaint/seamlessClone';
import { boundsOf } from '../../raster/bounds';
import { cropPicture } from '../../raster/crop';
import { clipRect, growRect, rectAround, toRaster, type Place, type Point, type Rect } from '../../raster/geometry';
import { isDeep, type Mask, type Picture, type Premultiplied, type Straight } from '../../raster/picture';
import { brushAlong } from '../brushAlong';

/** A coordinate, full-size px. */
export const place = z.number().min(-1e5).max(1e5);
export const point = z.strictObject({ x: place, y: place });
/** A stroke of a round brush. */
export const brushed = {
  size: z.number().min(1).max(2000),
  hardness: z.number().min(0).max(1),
  strength: z.number().min(0.01).max(1),
  points: z.array(point).min(1).max(5000),
};

/** A place on a canvas that has grown. */
export function moved<P extends Point>(at: P, dx: number, dy: number): P {
  return { ...at, x: at.x + dx, y: at.y + dy };
}

/** A plate as it stands, hidden part and all, and where it may be filled. */
export interface FillGround extends Place {
  readonly picture: Premultiplied;
  readonly hidden: Mask;
}

/** What an edit writes into: RGBA straight alpha, of the ground's size and bits. */
export interface FillTargets {
  /** Where nearer plates hide the plate. */
  readonly fill: Straight;
  /** Over its own pixels; only edits that may go beyond the hidden part land there. */
  readonly overpaint: Straight;
}

/** What an edit by hand works on. */
export interface FillCanvas {
  readonly ground: FillGround;
  readonly targets: FillTargets;
  /** Is told the rectangle before anything in it is changed. */
  readonly before?: (rect: Rect) => void;
}

/** A kind of edit by hand: works in place and returns the rectangle that was touched. */
export type FillEditKind<Schema extends z.ZodType> = KindOf<Schema, FillCanvas, Rect>;

/** What an edit covers: how far it reaches, and how strongly it covers each pixel of a window, 0 to 255. Raster px. */
export interface Shape {
  readonly reach: Rect;
  cover(window: Rect): Uint8Array;
}

/** What an edit puts on a plate. */
export interface Laid {
  readonly shape: Shape;
  /** Lands over the plate's own pixels too. */
  readonly beyond: boolean;
  /** Its gradients are matched to what lies around it. */
  readonly seamless: boolean;
  /** Draws what is put there into a piece of the window's size that shows the ground. */
  draw(piece: Picture, window: Rect, mask: Uint8Array): void;
}

/** Around it a seamless piece is set against the picture, px. */
const RING = 2;

/** A full-size place in the ground's own px. */
export const hereOn =
  (ground: FillGround) =>
  (at: Point): Point =>
    toRaster(at, ground);

/** What a round brush covers along a path of full-size places. */
export function brushShape(
  ground: FillGround,
  brush: {
    readonly size: number;
    readonly hardness: number;
    readonly strength: number;
    readonly points: readonly Point[];
  },
): Shape {
  const path = brush.points.map(hereOn(ground));
  const radius = (brush.size / 2) * ground.scale;
  return {
    reach: growRect(rectAround(path), radius + RING),
    cover: (window) => brushAlong(path, { radius, hardness: brush.hardness, strength: brush.strength }, window),
  };
}

/** How far a brush reaches, clipped to a canvas, full-size px. */
export function brushBounds(
  { size, points }: { readonly size: number; readonly points: readonly Point[] },
  canvas: { readonly width: number; readonly height: number },
): Rect | undefined {
  return clipRect(growRect(rectAround(points), size / 2 + RING), canvas.width, canvas.height);
}

interface Covered {
  /** The rectangle that the shape can reach. */
  readonly window: Rect;
  /** Coverage over the window. */
  readonly mask: Uint8Array;
  /** The rectangle in which anything is covered. */
  readonly within: Rect;
  /** For each covered pixel: where it lies on the ground and in the window, and how strongly it is covered, 0 to 1. */
  each(work: (onGround: number, inWindow: number, cover: number) => void): void;
}

/** @throws CoreError `missed` where nothing is covered */
function coverOf({ picture, hidden }: FillGround, shape: Shape, beyond: boolean): Covered {
  const { width, height } = picture;
  const missed = new CoreError(
    'missed',
    'Nothing landed: only what lies behind nearer plates is filled. Paint there, or let the stroke go beyond it.',
  );
  const window = clipRect(shape.reach, width, height);
  if (!window) throw missed;
  const mask = shape.cover(window);
  const w = window.right - window.left;
  if (!beyond) {
    for (let i = 0, y = window.top; y < window.bottom; y++)
      for (let x = window.left; x < window.right; x++, i++) if (hidden.data[y * width + x] === 0) mask[i] = 0;
  }
  const part = boundsOf(w, window.bottom - window.top, (i) => mask[i] !== 0);
  if (!part) throw missed;
  const within: Rect = {
    left: part.left + window.left,
    top: part.top + window.top,
    right: part.right + window.left,
    bottom: part.bottom + window.top,
  };
  return {
    window,
    mask,
    within,
    each: (work) => {
      for (let y = within.top; y < within.bottom; y++) {
        let i = y * width + within.left;
        let k = (y - window.top) * w + within.left - window.left;
        for (let x = within.left; x < within.right; x++, i++, k++) if (mask[k]) work(i, k, mask[k] / 255);
      }
    },
  };
}

/** Takes back what was filled in and painted under a shape. @throws CoreError `missed` */
export function takeBack({ ground, targets, before }: FillCanvas, shape: Shape): Rect {
  const { within, each } = coverOf(ground, shape, true);
  before?.(within);
  each((i, _k, cover) => {
    for (const { data } of [targets.fill, targets.overpaint])
      data[i * 4 + 3] = Math.round(data[i * 4 + 3] * (1 - cover));
  });
  return within;
}

/**
 * Puts something on a plate. What is taken is the ground as it was before. Works in the rectangle that the shape can reach, so
 * that a stroke costs as much as it is large.
 * @throws CoreError `missed` where nothing lands
 */
export function layDown({ ground, targets, before }: FillCanvas, { shape, beyond, seamless, draw }: Laid): Rect {
  const { picture, hidden } = ground;
  const most = isDeep(picture) ? 65535 : 255;
  const { window, mask, within, each } = coverOf(ground, shape, beyond);
  const piece = cropPicture(picture, window);
  draw(piece, window, mask);
  if (seamless) {
    const met = cropPicture(picture, window);
    const inside: Mask = { width: met.width, height: met.height, data: mask.map((v) => (v >= 128 ? 255 : 0)) };
    seamlessClone(met, piece, inside);
    each((_i, k, cover) => {
      if (cover >= 0.5) for (let c = k * 4; c < k * 4 + 3; c++) piece.data[c] = met.data[c];
    });
  }
  before?.(within);
  each((i, k, cover) => {
    const to = hidden.data[i] ? targets.fill : targets.overpaint;
    // Over what shows there now, so that soft edges meet it.
    for (let c = 0; c < 3; c++)
      to.data[i * 4 + c] = Math.round(picture.data[i * 4 + c] * (1 - cover) + piece.data[k * 4 + c] * cover);
    to.data[i * 4 + 3] = most;
  });
  return within;
}
