import { z } from 'zod';
import { CoreError } from '../../error';
import { sampleAt } from '../../inpaint/sample';
import type { Rect } from '../../raster/geometry';
import { Path } from '../../raster/path';
import type { Picture } from '../../raster/picture';
import { strokePoints } from '../../shot/document';
import { brushBounds, brushShape, hereOn, layDown, moved, type FillEditKind, type FillGround } from './canvas';

/** Continues what crosses the ends of a line, along it, `width` px wide. */
const schema = z.strictObject({
  kind: z.literal('line'),
  points: strokePoints,
  width: z.number().min(2).max(1000),
  beyond: z.boolean(),
});
type LineEdit = z.infer<typeof schema>;

const asBrush = ({ points, width }: LineEdit) => ({ size: width, hardness: 0.6, strength: 1, points });

/** An edge that goes on from one place to another. */
export const line: FillEditKind<typeof schema> = {
  kind: 'line',
  schema,
  bounds: (edit, size) => brushBounds(asBrush(edit), size),
  apply: (canvas, edit) =>
    layDown(canvas, {
      shape: brushShape(canvas.ground, asBrush(edit)),
      beyond: edit.beyond,
      seamless: false,
      draw: (piece, window) => {
        drawLine(canvas.ground, edit, piece, window);
      },
    }),
  label: () => 'Continue a line',
  shift: (edit, dx, dy) => ({ ...edit, points: edit.points.map((p) => moved(p, dx, dy)) }),
};

/**
 * What crosses the line's two ends goes on along it: taken mirrored from before each end, and mixed from one end to
 * the other. @param piece of the window; written @throws CoreError `too-short`
 */
function drawLine(ground: FillGround, edit: LineEdit, piece: Picture, { left, top, right, bottom }: Rect): void {
  const { picture, scale } = ground;
  const path = new Path(edit.points.map(hereOn(ground)));
  const w = right - left;
  const { length } = path;
  if (length < 1)
    throw new CoreError(
      'too-short',
      'The line has no length. Draw it from where the edge is known to where it goes on.',
    );
  const half = (edit.width / 2) * scale + 1;
  const first = new Float32Array(4);
  const two = new Float32Array(4);
  // So much before each end is taken and mirrored again and again: the line's own look, without what lies far away.
  const reach = Math.max(4, Math.min(length, edit.width * scale));
  const mirrored = (t: number): number => {
    const m = t % (2 * reach);
    return m < reach ? m : 2 * reach - m;
  };
  const lies = { along: 0, aside: 0 };
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const { along, aside } = path.locate(x + 0.5, y + 0.5, lies);
      if (along < 0 || along > length || Math.abs(aside) > half) continue;
      const before = path.at(-mirrored(along), aside);
      const after = path.at(length + mirrored(length - along), aside);
      const mix = along / length;
      sampleAt(picture, before.x, before.y, first);
      sampleAt(picture, after.x, after.y, two);
      for (let c = 0; c < 3; c++)
        piece.data[((y - top) * w + x - left) * 4 + c] = Math.round(first[c] * (1 - mix) + two[c] * mix);
    }
  }
}
