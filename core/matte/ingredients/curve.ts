import { z } from 'zod';
import { clipRect, rectAround } from '../../raster/geometry';
import { flattenCurve } from '../curve';
import { drawOutline } from '../outline';
import { place, way, type IngredientKind } from './ground';

const node = z.strictObject({ x: place, y: place, inX: place, inY: place, outX: place, outY: place });
const schema = z.strictObject({ kind: z.literal('curve'), way, nodes: z.array(node).min(2).max(500) });

/** A closed Bezier outline. */
export const curve: IngredientKind<typeof schema> = {
  kind: 'curve',
  schema,
  bounds: ({ nodes }, { width, height }) => clipRect(rectAround(flattenCurve(nodes)), width, height),
  apply: ({ picture, here, place: { scale } }, { nodes }) =>
    drawOutline(picture.width, picture.height, flattenCurve(nodes, scale).map(here)),
  label: () => 'curve',
  shift: (value, dx, dy) => ({
    ...value,
    nodes: value.nodes.map((n) => ({
      x: n.x + dx,
      y: n.y + dy,
      inX: n.inX + dx,
      inY: n.inY + dy,
      outX: n.outX + dx,
      outY: n.outY + dy,
    })),
  }),
};
