import { smoothFill } from '../smoothFill';
import { grown, type Ground } from './ground';
import { misfitsOf, type Fitting } from './misfits';
import type { Offset } from './offsets';
import { vote, type Said } from './vote';

/** So far beyond the hole the votes are asked, px: there they are set right by what is known. */
const SEAM = 2;

/** How a prediction is made. */
export interface Predicting extends Fitting {
  /** How soft the vote is. */
  readonly kappa: number;
}

/**
 * What a ground's own repetitions say of its hole, with their seam: how far they are off beside the hole is taken back within it,
 * spread as a membrane.
 * @param asked 1 where of the hole it is asked @default all of it
 */
export function predict(ground: Ground, offsets: readonly Offset[], how: Predicting, asked = ground.hole): Said {
  const { width, height, colours, known, hole } = ground;
  const wanted = grown(hole, width, height, SEAM).map((v, i) => (v && (known[i] || asked[i]) ? 1 : 0));
  const votes = vote(ground, offsets, misfitsOf(ground, offsets, how), { ...how, wanted });
  const residual = new Float32Array(width * height * 3);
  const free = Uint8Array.from(hole);
  for (let i = 0; i < free.length; i++) {
    if (!wanted[i] || hole[i]) continue;
    if (!votes.said[i]) {
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
