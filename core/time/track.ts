import { easeAt, type Ease } from './ease';

/** A value at a frame, and how it goes over to the next. */
export interface Key<T> {
  readonly frame: number;
  readonly value: T;
  /** To the next key. */
  readonly ease: Ease;
}

/** A value over time: its keys, in order of their frames; at least one. */
export interface Track<T> {
  readonly keys: readonly Key<T>[];
}

/** What lies between two values. @param share 0 the first, 1 the second; beyond where an ease swings over */
export type Mix<T> = (from: T, to: T, share: number) => T;

/** Between two keys. */
export interface Between<T> {
  readonly from: Key<T>;
  readonly to: Key<T>;
  /** Of the keys, the first one's place. */
  readonly index: number;
  /** How far it has come, by the first key's ease. */
  readonly share: number;
}

/** The keys around a frame; undefined before the first and from the last one on. */
export function between<T>({ keys }: Track<T>, frame: number): Between<T> | undefined {
  const next = keys.findIndex((key) => key.frame > frame);
  if (next <= 0) return undefined;
  const [from, to] = [keys[next - 1], keys[next]];
  return { from, to, index: next - 1, share: easeAt(from.ease, (frame - from.frame) / (to.frame - from.frame)) };
}

/** A track's value at a frame: that of its first key before it, of its last key after it. Frames may lie between whole ones. */
export function sample<T>(track: Track<T>, frame: number, mix: Mix<T>): T {
  const { keys } = track;
  const at = between(track, frame);
  if (at) return at.share === 0 ? at.from.value : mix(at.from.value, at.to.value, at.share);
  return (frame < keys[0].frame ? keys[0] : keys[keys.length - 1]).value;
}

export const mixNumbers: Mix<number> = (from, to, share) => from + (to - from) * share;
