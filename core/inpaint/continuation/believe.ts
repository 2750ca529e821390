import { boxMean } from '../../raster/box';
import { smoothFill } from '../smoothFill';
import { grown, type Ground } from './ground';
import type { Offset } from './offsets';
import { predict, type Predicting } from './predict';

/** Width of the ring around the hole that is predicted to see whether predictions hold, px. */
const RING = 28;
/** What is finer than this must be predicted; prediction over so wide a window: half the width of a square, px. */
const FINE = 20;
const LOCAL = 41;
/** Of what varies so much must be foretold: below the first nothing is believed, from the second on all. */
const FROM = 0.1;
const FULLY = 0.4;
/** Variance that is noise, of three channels. */
const NOISE = 3;

/**
 * How far predictions of a hole are to be believed, 0 to 1 a place: the ring around it is predicted from beyond the
 * ring, and what is foretold of its fine detail compared with what is there. This makes them safe: where nothing repeats
 * itself nothing is believed.
 */
export function believed(
  ground: Ground,
  offsets: readonly Offset[],
  how: Predicting,
): { readonly gate: Float32Array; readonly held: number } {
  const { width, height, colours, known, from, hole } = ground;
  const count = width * height;
  const wide = grown(hole, width, height, RING);
  const beyond: Ground = {
    ...ground,
    known: known.map((v, i) => (v && !wide[i] ? 1 : 0)),
    from: from.map((v, i) => (v && !wide[i] ? 1 : 0)),
    hole: hole.map((v, i) => (v || (known[i] && wide[i]) ? 1 : 0)),
  };
  const prediction = predict(
    beyond,
    offsets,
    how,
    known.map((v, i) => (v && wide[i] ? 1 : 0)),
  );
  const ring = new Float32Array(count);
  for (let i = 0; i < count; i++) ring[i] = known[i] & wide[i] & prediction.said[i];
  const mean = (plane: Float32Array, reach: number): Float32Array => boxMean(plane, width, height, reach);
  const weight = mean(ring, FINE);
  const errors = new Float32Array(count);
  const detail = new Float32Array(count);
  const truth = new Float32Array(count);
  const missing = new Float32Array(count);
  for (let c = 0; c < 3; c++) {
    for (let i = 0; i < count; i++) {
      if (ring[i] === 0) continue;
      truth[i] = colours[i * 3 + c];
      missing[i] = truth[i] - prediction.colours[i * 3 + c];
    }
    const smoothTruth = mean(truth, FINE);
    const smoothMissing = mean(missing, FINE);
    for (let i = 0; i < count; i++) {
      if (ring[i] === 0) continue;
      const a = truth[i] - smoothTruth[i] / weight[i];
      const b = missing[i] - smoothMissing[i] / weight[i];
      errors[i] += b * b;
      detail[i] += a * a;
    }
  }
  const error = mean(errors, LOCAL);
  const all = mean(detail, LOCAL);
  const many = mean(ring, LOCAL);
  const gate = new Float32Array(count);
  const free = Uint8Array.from(wide);
  let [missed, whole] = [0, 0];
  for (let i = 0; i < count; i++) {
    if (!ring[i]) continue;
    missed += errors[i];
    whole += detail[i] + NOISE;
    const share = 1 - error[i] / (all[i] + NOISE * many[i]);
    gate[i] = Math.min(1, Math.max(0, (share - FROM) / (FULLY - FROM)));
    free[i] = 0;
  }
  smoothFill(gate, free, { width, height, channels: 1, sweeps: 24 });
  return { gate, held: whole > 0 ? 1 - missed / whole : 0 };
}
