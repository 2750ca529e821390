/**
 * A rectangle of a shot's depth map, at full size or reduced: what the page holds of a large map, and what the server loads to
 * apply one edit. Full-size coordinates (x, y) lie at ((x - left) * scale, (y - top) * scale) of the window.
 */
export interface DepthWindow {
  readonly left: number;
  readonly top: number;
  /** Window px per full-size px, at most 1. */
  readonly scale: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/** A rectangle in px; right and bottom are exclusive. */
export interface Rect {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The part of `rect` that lies inside 0,0 to width,height, in whole px; undefined where nothing does. */
export function clipRect(rect: Rect, width: number, height: number): Rect | undefined {
  const r = {
    left: Math.max(0, Math.floor(rect.left)),
    top: Math.max(0, Math.floor(rect.top)),
    right: Math.min(width, Math.ceil(rect.right)),
    bottom: Math.min(height, Math.ceil(rect.bottom)),
  };
  return r.left < r.right && r.top < r.bottom ? r : undefined;
}

/** A full-size rectangle in the window's own px, clipped to it. */
export function rectInWindow(rect: Rect, window: DepthWindow): Rect | undefined {
  const { left, top, scale } = window;
  return clipRect(
    {
      left: (rect.left - left) * scale,
      top: (rect.top - top) * scale,
      right: (rect.right - left) * scale,
      bottom: (rect.bottom - top) * scale,
    },
    window.width,
    window.height,
  );
}
