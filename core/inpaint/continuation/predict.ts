import { smoothFill } from '../smoothFill';
import { grown, type Ground } from './ground';
import { misfitsOf } from './misfits';
import type { Offset } from './offsets';
import { vote, type Told } from './vote';

/** So far beyond the hole the votes are asked, px: there they are set right by what is known. */
const SEAM = 2;

/** How a prediction is made. */
export interface Predicting {
  /** Of the grid on which offsets' misfits are votes. */
  readonly factor: number;
  /** How soft the vote is. */
  readonly kappa: number;
  /** Is told the share of a prediction that is done, 0 to 1; may throw to end the work. */
  readonly onProgress?: (share: number) => void;
}

/**
 * What a ground's own repetitions say of its hole, with their seam: how far they are off beside the hole is taken back within it,
 * spread as a membrane.
 */
export function predict(ground: Ground, offsets: readonly Offset[], { factor, kappa, onProgress }: Predicting): Told {
  const { width, height, colours, known } = ground;
  const wanted = grown(
    known.map((v) => 1 - v),
    width,
    height,
    SEAM,
  );
  const votes = vote(ground, offsets, misfitsOf(ground, offsets, factor, onProgress), { factor, wanted, kappa });
  const residual = new Float32Array(width * height * 3);
  // Free but for the seam, and for what nobody asks.
  const free = new Uint8Array(width * height);
  for (let i = 0; i < free.length; i++) {
    if (!wanted[i]) continue;
    if (!known[i] || !votes.said[i]) {
      free[i] = 1;
      continue;
    }
    for (let c = 0; c < 3; c++) residual[i * 3 + c] = colours[i * 3 + c] - votes.colours[i * 3 + c];
  }
  smoothFill(residual, free, { width, height, channels: 3, sweeps: 24 });
  for (let i = 0; i < free.length; i++)
    if (votes.said[i]) for (let c = 0; c < 3; c++) votes.colours[i * 3 + c] += residual[i * 3 + c];
  return votes;
}
