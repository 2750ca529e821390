import { z } from 'zod';

/** Footage may have so many frames: a minute at 60 a second. */
export const MOST_FOOTAGE = 3600;

/** So many frames may have something of their own. */
export const MOST_KEYS = 400;

/** A frame's number, from 0. */
export const footageFrame = z.number().int().min(0).max(MOST_FOOTAGE);

/** True for keys in the order of their frames, no two at one frame. */
export const rising = (keys: readonly { readonly frame: number }[]): boolean =>
  keys.every((key, n) => n === 0 || key.frame > keys[n - 1].frame);
