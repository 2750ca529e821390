/** A place, px. Pixel centres lie at half px. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** A rectangle, px; right and bottom are exclusive. */
export interface Rect {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Columns of a picture, px; right is exclusive. */
export type ColumnRange = Pick<Rect, 'left' | 'right'>;

/** Where a raster lies in the whole picture: full-size (x, y) is at ((x - left) * scale, (y - top) * scale) of it. */
export interface Place {
  readonly left: number;
  readonly top: number;
  /** Raster px per full-size px. */
  readonly scale: number;
}

/** The whole picture at its own size. */
export const WHOLE: Place = { left: 0, top: 0, scale: 1 };

/** A full-size place in a raster's own px. */
export function toRaster(at: Point, { left, top, scale }: Place): Point {
  return { x: (at.x - left) * scale, y: (at.y - top) * scale };
}

/** A place in a raster's own px at full size. */
export function toFullSize(at: Point, { left, top, scale }: Place): Point {
  return { x: at.x / scale + left, y: at.y / scale + top };
}

/** The part of `rect` that lies inside 0,0 to width,height, in whole px; undefined where nothing does. */
export function clipRect(rect: Rect, width: number, height: number): Rect | undefined {
  const clipped = {
    left: Math.max(0, Math.floor(rect.left)),
    top: Math.max(0, Math.floor(rect.top)),
    right: Math.min(width, Math.ceil(rect.right)),
    bottom: Math.min(height, Math.ceil(rect.bottom)),
  };
  return clipped.left < clipped.right && clipped.top < clipped.bottom ? clipped : undefined;
}

/** The smallest rectangle that holds both; the second where there is no first. */
export function unionRect(a: Rect | undefined, b: Rect): Rect {
  if (!a) return b;
  return {
    left: Math.min(a.left, b.left),
    top: Math.min(a.top, b.top),
    right: Math.max(a.right, b.right),
    bottom: Math.max(a.bottom, b.bottom),
  };
}

/** A rectangle moved to the right and down. */
export const moveRect = ({ left, top, right, bottom }: Rect, dx: number, dy: number): Rect => ({
  left: left + dx,
  top: top + dy,
  right: right + dx,
  bottom: bottom + dy,
});

/** A rectangle with `room` px more at every side. */
export function growRect({ left, top, right, bottom }: Rect, room: number): Rect {
  return { left: left - room, top: top - room, right: right + room, bottom: bottom + room };
}

/** The smallest rectangle that holds every point. */
export function rectAround(points: readonly Point[]): Rect {
  let left = Infinity;
  let top = Infinity;
  let right = -Infinity;
  let bottom = -Infinity;
  for (const { x, y } of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return { left, top, right, bottom };
}

/** True where a point lies inside a rectangle. */
export function holds({ left, top, right, bottom }: Rect, { x, y }: Point): boolean {
  return x >= left && y >= top && x < right && y < bottom;
}
