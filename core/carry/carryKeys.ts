import { CoreError } from '../error';
import type { Size } from '../kind';
import { requireSameSize, type Picture8 } from '../raster/picture';

/** Frames by their numbers, the first one 0; asked for one after another. */
export interface Frames {
  readonly count: number;
  frame(n: number): Promise<Picture8>;
}

/** What was made by hand at one frame. */
export interface MadeAt {
  readonly frame: number;
  readonly made: Size;
}

/**
 * Whatever would stop carrying is said before the first frame.
 * @param what what keys hold: "depth", "a matte"
 * @throws CoreError `no-keys`, `no-such-frame`, `keys-disorder`, `size-differs`
 */
export function checkKeys(first: Size, count: number, keys: readonly MadeAt[], what: string): void {
  if (keys.length === 0)
    throw new CoreError('no-keys', `No frame has ${what} yet: at least one must, to be carried to the others.`);
  let before = -1;
  for (const { frame, made } of keys) {
    if (frame >= count)
      throw new CoreError('no-such-frame', `Frame ${frame + 1} has ${what}, but there are only ${count} frames.`);
    if (frame <= before) throw new CoreError('keys-disorder', `Frame ${frame + 1} has ${what} twice, or out of order.`);
    requireSameSize(`What frame ${frame + 1} has`, made, 'the frames', first);
    before = frame;
  }
}
