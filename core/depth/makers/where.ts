import { z } from 'zod';
import { CoreError } from '../../error';
import { choiceSchema, type Choice } from '../../matte/choice';
import type { Mask } from '../../raster/picture';
import { choosingOf, type MakerGround } from './ground';

/**
 * Where a map is shaped: everywhere, on the plate whose map it is, or in what a choice holds. Where nothing is said,
 * everywhere; what needs
 * an edge is meant for the plate.
 */
export const whereSchema = z
  .discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('everywhere') }),
    z.strictObject({ kind: z.literal('plate') }),
    z.strictObject({ kind: z.literal('chosen'), choice: choiceSchema }),
  ])
  .optional();
export type Where = z.infer<typeof whereSchema>;

/**
 * What of the picture is meant, 255 in full; undefined: all of it. A choice's edge is as hard as it is drawn, but for
 * feathering: coverage
 * that is solved from colours is for mattes.
 * @throws CoreError `no-plate`, `nothing-chosen`, and what a choice's ingredients throw
 */
export function regionOf(ground: MakerGround, where: Where = { kind: 'everywhere' }): Mask | undefined {
  switch (where.kind) {
    case 'everywhere':
      return undefined;
    case 'plate':
      return requirePlate(ground);
    case 'chosen':
      return choosingOf(ground).make(hard(where.choice), ground.depth);
  }
}

/** @throws CoreError `no-plate`, `nothing-chosen` */
export function requireRegion(ground: MakerGround, where: Where): Mask {
  return regionOf(ground, where) ?? requirePlate(ground);
}

/** What was made in the region, and what was there elsewhere. @param made depths 0 to 1; written and given back */
export function keptOutside({ depth }: MakerGround, region: Mask | undefined, made: Float32Array): Float32Array {
  if (!region) return made;
  for (let i = 0; i < made.length; i++) {
    const was = depth.data[i] / 65535;
    made[i] = was + (region.data[i] / 255) * (made[i] - was);
  }
  return made;
}

function requirePlate({ matte }: MakerGround): Mask {
  if (matte) return matte;
  throw new CoreError(
    'no-plate',
    'Only a plate that was cut has an edge. Choose its card on the board, or choose a part of the picture.',
  );
}

const hard = ({ ingredients, edge }: Choice): Choice => ({ ingredients, edge: { ...edge, solvePx: 0, unsure: [] } });
