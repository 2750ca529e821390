import { z } from 'zod';
import { depthSlice } from '../depthSlice';
import { way, type IngredientKind } from './ground';

const end = z.number().min(0).max(1);
const schema = z.strictObject({ kind: z.literal('slice'), way, far: end, near: end });

/** Everything between two depths. */
export const slice: IngredientKind<typeof schema> = {
  kind: 'slice',
  schema,
  bounds: (_value, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: ({ depth }, { far, near }) => depthSlice(depth, far, near),
  label: () => 'depth slice',
  shift: (value) => value,
};
