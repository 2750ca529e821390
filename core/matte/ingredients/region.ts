import { z } from 'zod';
import { RegionPaint } from '../regionPaint';
import { STROKE_IN, STROKE_OUT } from '../strokes';
import { drawStroke } from '../stroke';
import type { Mask } from '../../raster/picture';
import { moved, strokePath, way, type IngredientGround, type IngredientKind } from './ground';

const schema = z.strictObject({
  kind: z.literal('region'),
  way,
  strokes: z
    .array(z.strictObject({ side: z.enum(['in', 'out']), ...strokePath }))
    .min(2)
    .max(500),
  /** The depth map has a say. @default colours alone: so were choices made before it had one */
  byDepth: z.boolean().optional(),
});
type RegionStrokes = z.infer<typeof schema>;

/** Grown from strokes that say in and out. */
export const region: IngredientKind<typeof schema> = {
  kind: 'region',
  schema,
  bounds: (_value, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, value) => paintOf(ground, value).solve(...saidBy(ground, value)),
  label: () => 'region paint',
  shift: (value, dx, dy) => ({
    ...value,
    strokes: value.strokes.map((s) => ({ ...s, points: s.points.map((p) => moved(p, dx, dy)) })),
  }),
};

/** Where a region is unsure, 255. @throws CoreError `no-strokes` */
export const unsureRegion = (ground: IngredientGround, value: RegionStrokes): Mask =>
  paintOf(ground, value).unsure(...saidBy(ground, value));

/** Pieces by colours and pieces by depth, too, are kept apart. */
const paintOf = (ground: IngredientGround, { byDepth }: RegionStrokes): RegionPaint =>
  ground.keep(byDepth ? 'region by depth' : 'region', () => new RegionPaint(ground.picture));

function saidBy(ground: IngredientGround, { strokes, byDepth }: RegionStrokes): Parameters<RegionPaint['solve']> {
  const { width, height } = ground.picture;
  const marks = { width, height, data: new Uint8Array(width * height) };
  for (const { side, size, points } of strokes)
    drawStroke(marks, points.map(ground.here), {
      radius: (size / 2) * ground.place.scale,
      value: side === 'in' ? STROKE_IN : STROKE_OUT,
    });
  return [marks, byDepth ? ground.depth : undefined];
}
