import { isCarriedName, plateName } from './carriedNames';
import { isCarriedPlate } from './isCarriedPlate';
import { keysAround } from './keysAround';
import type { Plate, PlateKey } from './document';

/** What a plate has at a frame of its own. */
export const plateKeyAt = ({ keys }: Pick<Plate, 'keys'>, moment: number): PlateKey | undefined =>
  keys.find(({ frame }) => frame === moment);

/**
 * A plate at a frame of a film: as its key says, as it is carried there, or, until it is carried, not to be seen.
 * @param carried says of a carried plate whether it is there
 */
export function plateAtMoment(
  plate: Plate,
  mediaId: string,
  moment: number,
  carried: (name: string) => boolean,
): Plate {
  if (!isCarriedPlate(plate)) return plate;
  const key = plateKeyAt(plate, moment);
  if (key) return { ...plate, matte: key.matte, choice: key.choice, depth: key.depth };
  const name = plateName(mediaId, plate, moment);
  const there = carried(name) ? name : null;
  return { ...plate, matte: there, choice: null, depth: { revision: there, ...spanBetween(plate, moment) } };
}

/** A plate's span between its keys: it runs evenly from the one to the other. */
function spanBetween({ keys }: Plate, moment: number): { near: number; far: number } {
  const { before, after } = keysAround({ keys }, moment);
  const [from, to] = [(before ?? after)!, (after ?? before)!];
  const share = to.frame > from.frame ? (moment - from.frame) / (to.frame - from.frame) : 0;
  const mix = (end: 'near' | 'far'): number => from.depth[end] + share * (to.depth[end] - from.depth[end]);
  return { near: mix('near'), far: mix('far') };
}

/** The same plate with what it has at a frame among its keys: one that was cut there has a key there. */
export function withPlateKey(plate: Plate, moment: number): Plate {
  const { matte, choice, depth, keys, piece } = plate;
  if (piece || isCarriedName(matte)) return plate;
  const known = plateKeyAt(plate, moment);
  if (!known && matte === null) return plate;
  const key: PlateKey = { frame: moment, matte, choice, depth };
  const others = keys.filter((k) => k !== known);
  return { ...plate, keys: [...others, key].sort((a, b) => a.frame - b.frame) };
}
