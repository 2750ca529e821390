import { z } from 'zod';
import { sampleAt } from '../../inpaint/sample';
import type { Rect } from '../../raster/geometry';
import type { Picture } from '../../raster/picture';
import {
  brushBounds,
  brushed,
  brushShape,
  hereOn,
  layDown,
  moved,
  place,
  type FillEditKind,
  type FillGround,
} from './canvas';

/**
 * Copies what lies `dx`, `dy` away, seen from the stroke's first point turned, scaled and flipped; of several sources
 * each dab takes
 * the next. `jitter` moves the source of each dab by up to so many px, by `seed`, against repetition. `seamless`
 * matches the gradients.
 */
const schema = z.strictObject({
  kind: z.literal('clone'),
  ...brushed,
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
});
type CloneEdit = z.infer<typeof schema>;

/** A stroke that copies from elsewhere on the plate. */
export const clone: FillEditKind<typeof schema> = {
  kind: 'clone',
  schema,
  bounds: brushBounds,
  apply: (canvas, edit) =>
    layDown(canvas, {
      shape: brushShape(canvas.ground, edit),
      beyond: edit.beyond,
      seamless: edit.seamless,
      draw: (piece, window, mask) => {
        drawClone(canvas.ground, edit, { piece, window, mask });
      },
    }),
  label: () => 'Clone',
  shift: (edit, dx, dy) => ({ ...edit, points: edit.points.map((p) => moved(p, dx, dy)) }),
};

/** What is drawn into, and how strongly the stroke covers it. */
interface Draft {
  /** Of the window; written. */
  readonly piece: Picture;
  readonly window: Rect;
  readonly mask: Uint8Array;
}

/**
 * What a clone stroke copies: the ground as far away as its sources say, seen from the stroke's first point turned,
 * scaled and flipped.
 */
function drawClone(ground: FillGround, edit: CloneEdit, { piece, window, mask }: Draft): void {
  const { picture, scale } = ground;
  const { left, top, right, bottom } = window;
  const path = edit.points.map(hereOn(ground));
  const [first] = path;
  const w = right - left;
  const colour = new Float32Array(4);
  const angle = (edit.turn * Math.PI) / 180;
  const cos = Math.cos(angle) / edit.scale;
  const sin = Math.sin(angle) / edit.scale;
  const flip = edit.flip ? -1 : 1;
  const copy = (x: number, y: number, dx: number, dy: number): void => {
    const u = flip * (x + 0.5 - first.x);
    const v = y + 0.5 - first.y;
    const i = ((y - top) * w + x - left) * 4;
    sampleAt(picture, first.x + dx + u * cos - v * sin, first.y + dy + u * sin + v * cos, colour);
    for (let c = 0; c < 3; c++) piece.data[i + c] = Math.round(colour[c]);
  };
  if (edit.sources.length === 1 && edit.jitter === 0) {
    // One steady source says the same of a pixel wherever the brush is. Seamless, the piece must be known around the stroke too.
    const [{ dx, dy }] = edit.sources;
    for (let y = top, i = 0; y < bottom; y++)
      for (let x = left; x < right; x++, i++) if (mask[i] || edit.seamless) copy(x, y, dx * scale, dy * scale);
    return;
  }
  // A little more than the brush, so that the rounds of two dabs leave nothing of its edge between them.
  const radius = (edit.size / 2) * scale * 1.04 + (edit.seamless ? 2 : 1);
  const dab = (cx: number, cy: number, n: number): void => {
    const { dx, dy } = edit.sources[n % edit.sources.length];
    const jx = edit.jitter * spreadOf(edit.seed, 2 * n);
    const jy = edit.jitter * spreadOf(edit.seed, 2 * n + 1);
    for (let y = Math.max(top, Math.floor(cy - radius)); y <= Math.min(bottom - 1, cy + radius); y++) {
      for (let x = Math.max(left, Math.floor(cx - radius)); x <= Math.min(right - 1, cx + radius); x++) {
        if ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 <= radius * radius)
          copy(x, y, (dx + jx) * scale, (dy + jy) * scale);
      }
    }
  };
  // Each dab covers what the one before it said.
  const step = Math.max(1, radius / 2);
  let n = 0;
  let until = 0;
  path.forEach((b, k) => {
    if (k === 0) {
      dab(b.x, b.y, n++);
      until = step;
      return;
    }
    const a = path[k - 1];
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    for (; until <= length; until += step)
      dab(a.x + ((b.x - a.x) * until) / length, a.y + ((b.y - a.y) * until) / length, n++);
    until -= length;
  });
  const end = path[path.length - 1];
  dab(end.x, end.y, n);
}

/** -1 to 1 by a seed. */
function spreadOf(seed: number, n: number): number {
  let t = Math.imul((seed + n * 0x9e3779b1) ^ 0x85ebca6b, 0xc2b2ae35);
  t ^= t >>> 15;
  t = Math.imul(t, 0x27d4eb2f);
  return ((t ^ (t >>> 13)) >>> 0) / 2147483648 - 1;
}
