import { z } from 'zod';
import { floodAt, floodTolerance } from '../flood';
import { moved, place, way, type IngredientKind } from './ground';

const schema = z.strictObject({
  kind: z.literal('flood'),
  way,
  x: place,
  y: place,
  tolerance: z.number().int().min(0).max(255),
  reach: z.number().int().min(0).max(50),
  connected: z.boolean(),
});

/** Similar colour around a seed. What each pixel needs is found once, so that the tolerance can be changed after the click. */
export const flood: IngredientKind<typeof schema> = {
  kind: 'flood',
  schema,
  bounds: (_value, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: (ground, { x, y, reach, connected, tolerance }) => {
    const { picture, place: lies } = ground;
    const seed = ground.here({ x, y });
    const wide = Math.round(reach * lies.scale);
    const needed = ground.keep(`flood ${seed.x},${seed.y},${wide},${connected}`, () =>
      floodTolerance(picture, {
        x: Math.min(picture.width - 1, seed.x),
        y: Math.min(picture.height - 1, seed.y),
        reach: wide,
        connected,
      }),
    );
    return floodAt(needed, tolerance);
  },
  label: () => 'flood',
  shift: moved,
};
