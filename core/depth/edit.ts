import { z } from 'zod';
import { BrushStroke, strokeBounds } from './brush';
import { applyPolygon } from './polygon';
import { applyRamp } from './ramp';
import { clipRect, type DepthWindow, type Rect } from './window';

const depthValue = z.number().min(0).max(1);
const place = z.number().min(-1e6).max(1e6);

/** One edit of a depth map, as it travels from the page to the server; both apply it with the same code. */
export const depthEditSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('stroke'),
    mode: z.enum(['set', 'nearer', 'farther', 'smooth']),
    depth: depthValue,
    size: z.number().min(1).max(4000),
    hardness: z.number().min(0).max(1),
    strength: z.number().min(0.01).max(1),
    pressure: z.enum(['none', 'strength', 'size']),
    points: z
      .array(z.strictObject({ x: place, y: place, pressure: z.number().min(0).max(1) }))
      .min(1)
      .max(20000),
  }),
  z.strictObject({
    kind: z.literal('ramp'),
    from: z.strictObject({ x: place, y: place, depth: depthValue }),
    to: z.strictObject({ x: place, y: place, depth: depthValue }),
    reach: z.enum(['everywhere', 'between']),
    against: z.enum(['replace', 'nearer', 'farther']),
  }),
  z.strictObject({
    kind: z.literal('polygon'),
    points: z
      .array(z.strictObject({ x: place, y: place }))
      .min(3)
      .max(5000),
    depth: depthValue,
  }),
]);
export type DepthEdit = z.infer<typeof depthEditSchema>;

/** What an edit can touch or needs to look at, clipped to the map, full-size px; undefined where it misses the map. */
export function editBounds(edit: DepthEdit, width: number, height: number): Rect | undefined {
  switch (edit.kind) {
    case 'stroke':
      return clipRect(strokeBounds(edit, edit.points), width, height);
    case 'ramp':
      return { left: 0, top: 0, right: width, bottom: height };
    case 'polygon': {
      const xs = edit.points.map((p) => p.x);
      const ys = edit.points.map((p) => p.y);
      return clipRect(
        { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs) + 1, bottom: Math.max(...ys) + 1 },
        width,
        height,
      );
    }
  }
}

/** Applies an edit to a window in place; returns what changed, in window px. */
export function applyDepthEdit(window: DepthWindow, edit: DepthEdit): Rect | undefined {
  switch (edit.kind) {
    case 'stroke':
      return new BrushStroke(window, edit).add(edit.points);
    case 'ramp':
      return applyRamp(window, edit);
    case 'polygon':
      return applyPolygon(window, edit);
  }
}

/** What an edit is called in the history. */
export function editLabel(edit: DepthEdit): string {
  switch (edit.kind) {
    case 'stroke':
      return edit.mode === 'set'
        ? `Set depth ${edit.depth.toFixed(2)}`
        : edit.mode === 'smooth'
          ? 'Smooth depth'
          : `Paint ${edit.mode}`;
    case 'ramp':
      return `Ramp ${edit.from.depth.toFixed(2)} to ${edit.to.depth.toFixed(2)}`;
    case 'polygon':
      return `Fill outline with ${edit.depth.toFixed(2)}`;
  }
}
