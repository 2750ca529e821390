import { z } from 'zod';
import { brushBounds, brushed, brushShape, moved, takeBack, type FillEditKind } from './canvas';

const schema = z.strictObject({ kind: z.literal('erase'), ...brushed });

/** A stroke that takes back what was filled in. */
export const erase: FillEditKind<typeof schema> = {
  kind: 'erase',
  schema,
  bounds: brushBounds,
  apply: (canvas, edit) => takeBack(canvas, brushShape(canvas.ground, edit)),
  label: () => 'Erase fill',
  shift: (edit, dx, dy) => ({ ...edit, points: edit.points.map((p) => moved(p, dx, dy)) }),
};
