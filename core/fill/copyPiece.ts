import { CoreError } from '../error';
import { feather } from '../matte/edge';
import { drawOutline } from '../matte/outline';
import type { Bounds } from '../raster/bounds';
import type { Picture } from '../raster/picture';
import type { Edit, Place, Shape } from './fillEdit';
import { sampleAt } from './sample';

/** A piece that is copied to where its corners lie. */
export interface CopiedPiece extends Shape {
  /** @param piece of the window; written */
  draw(picture: Picture, window: Bounds, piece: Picture): void;
}

/** @param here from full-size px to raster px @throws CoreError `flat` where the corners lie on one line */
export function copiedPiece(edit: Edit<'copy'>, here: (p: Place) => Place, scale: number): CopiedPiece {
  const { map, back } = perspective(edit, here);
  const soft = edit.soft * scale;
  const room = soft * 3 + 2;
  const corners = edit.corners.map(here);
  const xs = corners.map((p) => p.x);
  const ys = corners.map((p) => p.y);
  return {
    reach: {
      left: Math.floor(Math.min(...xs) - room),
      top: Math.floor(Math.min(...ys) - room),
      right: Math.ceil(Math.max(...xs) + room),
      bottom: Math.ceil(Math.max(...ys) + room),
    },
    cover: ({ left, top, right, bottom }) => {
      const outline = drawOutline(
        right - left,
        bottom - top,
        edit.points.map((p) => {
          const q = map(here(p));
          return { x: q.x - left, y: q.y - top };
        }),
      );
      return (soft >= 0.3 ? feather(outline, soft) : outline).data;
    },
    draw: (picture, { left, top, right, bottom }, piece) => {
      const colour = new Float32Array(4);
      for (let y = top, i = 0; y < bottom; y++) {
        for (let x = left; x < right; x++, i += 4) {
          const from = back({ x: x + 0.5, y: y + 0.5 });
          sampleAt(picture, from.x, from.y, colour);
          for (let c = 0; c < 3; c++) piece.data[i + c] = Math.round(colour[c]);
        }
      }
    },
  };
}

/** The projective map from the outline's bounding box to the four corners, and back. Source: Heckbert, "Fundamentals of texture mapping and image warping", 1989. */
function perspective(edit: Edit<'copy'>, here: (p: Place) => Place): { map(p: Place): Place; back(p: Place): Place } {
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
  const apply = (t: readonly number[], u: number, v: number): Place => {
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
