import { smoothFill } from '../smoothFill';
import { believed } from './believe';
import { holeOf, smaller, type Ground } from './ground';
import { findOffsets } from './offsets';
import { predict } from './predict';
import { refined } from './refine';

/** So many offsets are asked. */
const MOST = 200;
/** Shares of the work after which something new begins: searching, predicting, testing. */
const SEARCHED = 0.5;
const PREDICTED = 0.75;

export interface GoingOn {
  /** The grid on which repetitions are searched and prediction is so many times coarser. */
  readonly factor: number;
  /** How soft the vote is. */
  readonly kappa: number;
  readonly onProgress?: (share: number) => void;
}

/**
 * How a ground goes on into its hole: by its own repetitions as far as these are seen to hold, else smoothly.
 * Sources: He and Sun, "Statistics of patch offsets for image completion", ECCV 2012, with a weighted vote in place of their cut.
 * @returns red, green and blue of every place; known ones as they were
 */
export function goOn(ground: Ground, { factor, kappa, onProgress = () => undefined }: GoingOn): Float32Array {
  const out = Float32Array.from(ground.colours);
  const hole = holeOf(ground);
  smoothFill(out, hole, { width: ground.width, height: ground.height, channels: 3, sweeps: 40 });
  const rough = findOffsets(smaller(ground, factor), (share) => {
    onProgress(share * SEARCHED);
  });
  const offsets = refined(ground, rough, factor).slice(0, MOST);
  if (offsets.length === 0) return out;
  onProgress(SEARCHED);
  // Misfits are prediction over windows: a grid twice as coarse holds all they say.
  const from = (begin: number, end: number) => ({
    factor: 2 * factor,
    kappa,
    onProgress: (share: number): void => {
      onProgress(begin + (end - begin) * share);
    },
  });
  const prediction = predict(ground, offsets, from(SEARCHED, PREDICTED));
  onProgress(PREDICTED);
  const gate = believed(ground, offsets, from(PREDICTED, 1));
  for (let i = 0; i < hole.length; i++) {
    if (!hole[i] || !prediction.said[i]) continue;
    for (let c = 0; c < 3; c++) out[i * 3 + c] += gate[i] * (prediction.colours[i * 3 + c] - out[i * 3 + c]);
  }
  onProgress(1);
  return out;
}
