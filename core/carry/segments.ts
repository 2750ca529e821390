/**
 * A stretch of frames that is carried at once: from a key, to a key, or both. Frames count from 0, both ends within
 * it.
 */
export interface Segment {
  readonly first: number;
  readonly last: number;
  /** The keys at its ends, where they are. */
  readonly keys: readonly number[];
}

/**
 * The stretches between keys, and before the first and after the last one of every scene: a cut is never crossed. A
 * scene without a key
 * has none.
 * @param keys frames that have depth of their own, rising
 * @param cuts first frames of scenes, rising
 */
export function segmentsOf(frames: number, keys: readonly number[], cuts: readonly number[]): Segment[] {
  const segments: Segment[] = [];
  const bounds = [0, ...cuts, frames];
  for (let scene = 0; scene + 1 < bounds.length; scene++) {
    const [begin, end] = [bounds[scene], bounds[scene + 1] - 1];
    const within = keys.filter((key) => key >= begin && key <= end);
    if (within.length === 0) continue;
    if (within[0] > begin) segments.push({ first: begin, last: within[0], keys: [within[0]] });
    for (let n = 0; n + 1 < within.length; n++)
      if (within[n + 1] > within[n] + 1)
        segments.push({ first: within[n], last: within[n + 1], keys: [within[n], within[n + 1]] });
    const last = within[within.length - 1];
    if (last < end) segments.push({ first: last, last: end, keys: [last] });
  }
  return segments;
}

/** Frames of scenes in which no key lies: nothing is carried there. @param keys rising @param cuts first frames of scenes */
export function framesWithout(frames: number, keys: readonly number[], cuts: readonly number[]): number[] {
  const bounds = [0, ...cuts, frames];
  return Array.from({ length: frames }, (_, n) => n).filter((n) => {
    const scene = bounds.findIndex((end) => end > n);
    return !keys.some((key) => key >= bounds[scene - 1] && key < bounds[scene]);
  });
}

/** Frames of a stretch that are no keys. */
export function carriedIn({ first, last, keys }: Segment): number[] {
  const frames: number[] = [];
  for (let n = first; n <= last; n++) if (!keys.includes(n)) frames.push(n);
  return frames;
}
