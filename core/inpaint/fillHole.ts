import type { Mask, Picture } from '../raster/picture';
import { continueFill, type ContinueOptions } from './continuation/continueFill';
import { smoothArea } from './smoothArea';
import { textureFill } from './textureFill';

/** The first is the first answer. */
export const FILL_METHODS = ['continue', 'texture', 'smooth'] as const;
export type FillMethod = (typeof FILL_METHODS)[number];

/**
 * Fills a picture's hole by texture, with how its surroundings go on, or smoothly. Pixels outside the hole come out unchanged,
 * bit for bit; alpha stays.
 * @param hole 128 and more: fill
 * @throws CoreError `no-hole`, `nothing-to-sample`, `size-differs`
 */
export function fillHole<P extends Picture>(
  picture: P,
  hole: Mask,
  method: FillMethod,
  options: ContinueOptions = {},
): P {
  if (method === 'continue') return continueFill(picture, hole, options);
  return method === 'texture' ? textureFill(picture, hole, options) : smoothArea(picture, hole, asideOf(options));
}

/** What has no part in a smooth fill of one of two grounds: the other one, and what is of no account anyway. */
function asideOf({ apart, ignore }: ContinueOptions): Mask | undefined {
  if (!apart || !ignore) return apart;
  return { ...apart, data: apart.data.map((v, i) => v | ignore.data[i]) };
}
