/** Frame of a stretch at a time. @param played frames that have gone by since the first */
export function frameAt(played: number, first: number, last: number, mode: 'once' | 'loop' | 'there-and-back'): number {
  const count = last - first + 1;
  if (mode === 'once') return Math.min(last, first + played);
  if (mode === 'loop' || count < 2) return first + (played % count);
  const turn = played % (2 * count - 2);
  return first + (turn < count ? turn : 2 * count - 2 - turn);
}
