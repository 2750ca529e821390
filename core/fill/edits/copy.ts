import { z } from 'zod';
import { CoreError } from '../../error';
import { sampleAt } from '../../inpaint/sample';
import { feather } from '../../matte/edge';
import { drawOutline } from '../../matte/outline';
import { clipRect, growRect, rectAround, type Point, type Rect } from '../../raster/geometry';
import type { Picture } from '../../raster/picture';
import { hereOn, layDown, moved, point, type FillCanvas, type FillEditKind } from './canvas';

/** Copies what an outline holds to where its bounding box's corners (from upper left, clockwise) come to lie. */
const schema = z.strictObject({
  kind: z.literal('copy'),
  points: z.array(point).min(3).max(5000),
  corners: z.tuple([point, point, point, point]),
  soft: z.number().min(0).max(100),
  seamless: z.boolean(),
  beyond: z.boolean(),
});
type CopyEdit = z.infer<typeof schema>;

/** How far a soft edge spreads beyond the corners, px. */
const roomOf = (soft: number): number => soft * 3 + 2;

/** A whole piece, copied to where its corners lie. */
export const copy: FillEditKind<typeof schema> = {
  kind: 'copy',
  schema,
  bounds: ({ corners, soft }, { width, height }) =>
    clipRect(growRect(rectAround(corners), roomOf(soft)), width, height),
  apply: copyPiece,
  label: () => 'Copy a piece',
  shift: (edit, dx, dy) => ({
    ...edit,
    points: edit.points.map((p) => moved(p, dx, dy)),
    corners: edit.corners.map((p) => moved(p, dx, dy)) as CopyEdit['corners'],
  }),
};

/** @throws CoreError `flat` where the corners lie on one line; `missed` */
function copyPiece(canvas: FillCanvas, edit: CopyEdit): Rect {
  const { ground } = canvas;
  const here = hereOn(ground);
  const { map, back } = perspective(edit, here);
  const soft = edit.soft * ground.scale;
  const cover = ({ left, top, right, bottom }: Rect): Uint8Array => {
    const corners = edit.points.map((p) => {
      const q = map(here(p));
      return { x: q.x - left, y: q.y - top };
    });
    const outline = drawOutline(right - left, bottom - top, corners);
    return (soft >= 0.3 ? feather(outline, soft) : outline).data;
  };
  const draw = (piece: Picture, { left, top, right, bottom }: Rect): void => {
    const colour = new Float32Array(4);
    for (let y = top, i = 0; y < bottom; y++) {
      for (let x = left; x < right; x++, i += 4) {
        const from = back({ x: x + 0.5, y: y + 0.5 });
        sampleAt(ground.picture, from.x, from.y, colour);
        for (let c = 0; c < 3; c++) piece.data[i + c] = Math.round(colour[c]);
      }
    }
  };
  return layDown(canvas, {
    shape: { reach: growRect(rectAround(edit.corners.map(here)), roomOf(soft)), cover },
    beyond: edit.beyond,
    seamless: edit.seamless,
    draw,
  });
}

/**
 * The projective map from the outline's bounding box to the four corners, and back. Source: Heckbert, "Fundamentals of
 * texture mapping and image warping", 1989.
 */
function perspective(edit: CopyEdit, here: (p: Point) => Point): { map(p: Point): Point; back(p: Point): Point } {
  const from = edit.points.map(here);
  const xs = from.map((p) => p.x);
  const ys = from.map((p) => p.y);
  const x0 = Math.min(...xs);
  const y0 = Math.min(...ys);
  const w = Math.max(1e-6, Math.max(...xs) - x0);
  const h = Math.max(1e-6, Math.max(...ys) - y0);
  const [a, b, c, d] = edit.corners.map(here);
  const sx = a.x - b.x + c.x - d.x;
  const sy = a.y - b.y + c.y - d.y;
  const dx1 = b.x - c.x;
  const dy1 = b.y - c.y;
  const dx2 = d.x - c.x;
  const dy2 = d.y - c.y;
  const det = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(det) < 1e-9)
    throw new CoreError('flat', 'The corners lie on one line, so nothing can be copied there. Draw them apart.');
  const g = (sx * dy2 - dx2 * sy) / det;
  const k = (dx1 * sy - sx * dy1) / det;
  const m = [b.x - a.x + g * b.x, d.x - a.x + k * d.x, a.x, b.y - a.y + g * b.y, d.y - a.y + k * d.y, a.y, g, k, 1];
  const inverse = [
    m[4] - m[5] * m[7],
    m[2] * m[7] - m[1],
    m[1] * m[5] - m[2] * m[4],
    m[5] * m[6] - m[3],
    m[0] - m[2] * m[6],
    m[2] * m[3] - m[0] * m[5],
    m[3] * m[7] - m[4] * m[6],
    m[1] * m[6] - m[0] * m[7],
    m[0] * m[4] - m[1] * m[3],
  ];
  const apply = (t: readonly number[], u: number, v: number): Point => {
    const z = t[6] * u + t[7] * v + t[8];
    return { x: (t[0] * u + t[1] * v + t[2]) / z, y: (t[3] * u + t[4] * v + t[5]) / z };
  };
  return {
    map: (p) => apply(m, (p.x - x0) / w, (p.y - y0) / h),
    back: (p) => {
      const q = apply(inverse, p.x, p.y);
      return { x: x0 + q.x * w, y: y0 + q.y * h };
    },
  };
}
