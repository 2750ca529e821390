import { clipRect, type Rect } from '../raster/geometry';

/**
 * A rectangle of a shot's depth map, at full size or reduced: what the page holds of a large map, and what the server
 * loads to
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
  /** The picture's colours in the same place, RGBA of 8 bits, premultiplied; only where an edit needs them. */
  readonly colours?: Uint8Array | Uint8ClampedArray;
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
