/**
 * What a picture looks like in short: mean colours of a coarse grid, 0 to 255, three values a field.
 */
export type Signature = Uint8Array | Uint8ClampedArray | Float32Array;

/** A cut changes the picture by more than this, grey levels in the mean over the grid. */
const CHANGES = 12;
/** And by so many times what it changes by before and after. */
const SUDDEN = 3;
/** So many frames before and after are looked at. */
const AROUND = 5;
/** And colours are other ones, not the same at other places: share of the fields whose colour moves to another step. */
const OTHER_COLOURS = 0.2;

/**
 * Frames at which a film cuts to another scene: the picture changes at once, by much more than from any frame to the
 * next around it,
 * and its colours with it. Fades and dissolves are no cuts. Source: shot boundaries by differences of frames and of
 * histograms
 * (Hanjalic, "Shot-boundary detection: unraveled and resolved?", IEEE TCSVT 12, 2002); the numbers are ours.
 * @returns the first frame of each scene but the first
 */
export function cutsIn(frames: readonly Signature[]): number[] {
  const changes = frames.map((frame, n) => (n === 0 ? 0 : meanChange(frames[n - 1], frame)));
  const cuts: number[] = [];
  for (let n = 1; n < frames.length; n++) {
    if (changes[n] < CHANGES) continue;
    let around = 0;
    for (let k = Math.max(1, n - AROUND); k <= Math.min(frames.length - 1, n + AROUND); k++)
      if (k !== n && changes[k] > around) around = changes[k];
    // Two cuts may lie near each other: a change that is itself one says nothing of how much is usual.
    const usual = around >= CHANGES && around > changes[n] / SUDDEN ? usualAround(changes, n) : around;
    if (changes[n] > SUDDEN * usual && otherColours(frames[n - 1], frames[n]) > OTHER_COLOURS) cuts.push(n);
  }
  return cuts;
}

/** The middle one of what the picture changes by around a frame. */
function usualAround(changes: readonly number[], n: number): number {
  const near = changes.slice(Math.max(1, n - AROUND), n + AROUND + 1).sort((a, b) => a - b);
  return near[near.length >> 1];
}

function meanChange(a: Signature, b: Signature): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i]);
  return sum / a.length;
}

/** Half the difference of both histograms of 4 x 4 x 4 colours, 0 to 1. */
function otherColours(a: Signature, b: Signature): number {
  const counts = new Int32Array(64);
  const cell = (s: Signature, i: number): number => ((s[i] >> 6) << 4) | ((s[i + 1] >> 6) << 2) | (s[i + 2] >> 6);
  for (let i = 0; i < a.length; i += 3) {
    counts[cell(a, i)]++;
    counts[cell(b, i)]--;
  }
  return (counts.reduce((sum, v) => sum + Math.abs(v), 0) * 3) / (2 * a.length);
}
