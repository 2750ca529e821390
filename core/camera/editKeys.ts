import type { Ease } from '../time/ease';
import type { StanceKey } from './move';

/** The keys with one at a frame, in place of the one that stood there. */
export function withKey<K extends StanceKey>(keys: readonly K[], key: K): K[] {
  return [...keys.filter(({ frame }) => frame !== key.frame), key].sort((a, b) => a.frame - b.frame);
}

/** The keys without one; the last one stays. */
export const withoutKey = <K extends StanceKey>(keys: readonly K[], index: number): K[] =>
  keys.length > 1 ? keys.filter((_, n) => n !== index) : [...keys];

/** The keys with one moved to another frame: as far as its neighbours let it. @param frames of the move */
export function withKeyAt<K extends StanceKey>(keys: readonly K[], index: number, frame: number, frames: number): K[] {
  const first = index > 0 ? keys[index - 1].frame + 1 : 0;
  const last = index < keys.length - 1 ? keys[index + 1].frame - 1 : frames - 1;
  const at = Math.min(last, Math.max(first, Math.round(frame)));
  return keys.map((key, n) => (n === index ? { ...key, frame: at } : key));
}

/** The keys spread over another number of frames; where two would fall on one, the later one moves on. */
export function stretchedKeys<K extends StanceKey>(keys: readonly K[], from: number, to: number): K[] {
  const scale = (to - 1) / Math.max(1, from - 1);
  const frames = keys.map(({ frame }) => Math.round(frame * scale));
  for (let n = 1; n < frames.length; n++) frames[n] = Math.max(frames[n], frames[n - 1] + 1);
  for (let n = frames.length - 1, most = to - 1; n >= 0; n--, most--) frames[n] = Math.min(frames[n], most);
  return keys.flatMap((key, n) => (frames[n] < 0 ? [] : [{ ...key, frame: frames[n] }]));
}

/**
 * The keys with one moved to another frame and those between it and the end of the way beyond it spread along: stretched as
 * far as it goes on, squeezed as far as it comes back. The keys on its other side keep their distance, as far as there is room.
 * @param frames of the move
 */
export function spreadKeys<K extends StanceKey>(keys: readonly K[], index: number, frame: number, frames: number): K[] {
  const anchor = index > 0 ? 0 : keys.length - 1;
  if (keys.length < 2) return withKeyAt(keys, index, frame, frames);
  const fixed = keys[anchor].frame;
  const was = keys[index].frame;
  const between = Math.abs(index - anchor);
  const behind = anchor === 0 ? keys.length - 1 - index : 0;
  // Every key has a frame of its own.
  const to =
    anchor === 0
      ? Math.min(frames - 1 - behind, Math.max(fixed + between, Math.round(frame)))
      : Math.min(fixed - between, Math.max(0, Math.round(frame)));
  const moved = keys.map((key, n) => {
    if (n === anchor) return fixed;
    const within = anchor === 0 ? n <= index : true;
    return within ? fixed + Math.round(((key.frame - fixed) * (to - fixed)) / (was - fixed)) : key.frame + to - was;
  });
  for (let n = 1; n < moved.length; n++) moved[n] = Math.max(moved[n], moved[n - 1] + 1);
  for (let n = moved.length - 1, most = frames - 1; n >= 0; n--, most--) moved[n] = Math.min(moved[n], most);
  return keys.map((key, n) => ({ ...key, frame: moved[n] }));
}

const TURNED: Readonly<Partial<Record<string, Ease>>> = { settle: 'late', late: 'settle' };

/** An ease run backwards. */
function backwards(ease: Ease): Ease {
  if (typeof ease === 'string') return TURNED[ease] ?? ease;
  const [x1, y1, x2, y2] = ease;
  return [1 - x2, 1 - y2, 1 - x1, 1 - y1];
}

/** The move run backwards. @param frames of the move */
export function reversedKeys<K extends StanceKey>(keys: readonly K[], frames: number): K[] {
  return keys
    .map((key, n) => ({
      ...key,
      frame: frames - 1 - key.frame,
      // The ease to the next key belongs to the way between both.
      ease: n > 0 ? backwards(keys[n - 1].ease) : key.ease,
    }))
    .reverse();
}
