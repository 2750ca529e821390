import { believed } from './believe';
import { smaller, type Ground } from './ground';
import { findOffsets, MOST_WINDOWS } from './offsets';
import { predict } from './predict';
import { refined } from './refine';
import type { Said } from './vote';

/** So many offsets are asked; for a quick look so many, of so many windows. */
const MOST = 180;
const FEW = 80;
const FEW_WINDOWS = 40;
/**
 * Of a ground of more px misfits are told on a grid twice as coarse; of a plane seen face on, which repeats itself more evenly,
 * from fewer on.
 */
const LARGE = 6e5;
const LARGE_PLANE = 2e5;
/** Shares of the work after which something new begins: searching, predicting, testing. */
const SEARCHED = 0.5;
const PREDICTED = 0.75;

export interface Foretelling {
  /** The grid on which repetitions are searched and prediction is so many times coarser. */
  readonly factor: number;
  /** How soft the vote is. */
  readonly kappa: number;
  /** How much of a mean difference is forgiven, 0 to 1. */
  readonly forgiven: number;
  /** By few windows and offsets. @default false */
  readonly quick?: boolean;
  readonly onProgress?: (share: number) => void;
}

/** What a ground's own repetitions say of its hole, and how far that is to be believed. */
export interface Foretold extends Said {
  /** 0 to 1 a place. */
  readonly gate: Float32Array;
  /** Share of the detail beside the hole that is foretold, of all of it. */
  readonly held: number;
}

/** @returns undefined where nothing repeats itself */
export function foretell(
  ground: Ground,
  { factor, kappa, forgiven, quick = false, onProgress = () => undefined }: Foretelling,
): Foretold | undefined {
  const rough = findOffsets(smaller(ground, factor), quick ? FEW_WINDOWS : MOST_WINDOWS, (share) => {
    onProgress(share * SEARCHED);
  });
  const offsets = refined(ground, rough, factor, quick ? FEW : MOST);
  if (offsets.length === 0) return undefined;
  onProgress(SEARCHED);
  // Misfits are means over windows: a coarser grid holds all they say.
  const from = (begin: number, end: number) => ({
    factor: ground.width * ground.height > (forgiven > 0 ? LARGE_PLANE : LARGE) ? 4 * factor : 2 * factor,
    kappa,
    forgiven,
    onProgress: (share: number): void => {
      onProgress(begin + (end - begin) * share);
    },
  });
  const prediction = predict(ground, offsets, from(SEARCHED, PREDICTED));
  onProgress(PREDICTED);
  const belief = believed(ground, offsets, from(PREDICTED, 1));
  return { ...prediction, ...belief };
}

/**
 * A quick look at half the size, or smaller where that would be more px, by few windows and offsets: is so much foretold that
 * a closer one is worth it?
 */
const LOOKED_AT = 1e5;
const WORTH = 0.04;

/** Whether a ground repeats itself so that foretelling its hole may be believed. */
export function worthForetelling(ground: Ground, { factor, kappa, forgiven }: Foretelling): boolean {
  const by = Math.max(2, Math.round(Math.sqrt((ground.width * ground.height) / LOOKED_AT)));
  const small = smaller(ground, by);
  const coarse = Math.ceil(factor / by);
  const offsets = refined(small, findOffsets(smaller(small, coarse), FEW_WINDOWS), coarse, FEW);
  if (offsets.length === 0) return false;
  return believed(small, offsets, { factor: 2 * factor, kappa, forgiven }).held > WORTH;
}
