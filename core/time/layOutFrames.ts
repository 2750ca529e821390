import type { Rate } from './rate';

/** Pictures of a file laid out as frames of one length. */
export interface LaidOutFrames {
  readonly rate: Rate;
  /** Which picture each frame shows, from 0. */
  readonly shows: readonly number[];
  /** Every picture is one frame, as it came. */
  readonly even: boolean;
}

/**
 * Frame rates that films, television and screens have. Source: SMPTE ST 2036-1 and ITU-R BT.2020; 12, 15 and 10:
 * common practice.
 */
const RATES: readonly Rate[] = [
  [10, 1],
  [12, 1],
  [15, 1],
  [24000, 1001],
  [24, 1],
  [25, 1],
  [30000, 1001],
  [30, 1],
  [48, 1],
  [50, 1],
  [60000, 1001],
  [60, 1],
].map(([numerator, denominator]) => ({ numerator, denominator }));

const hertz = ({ numerator, denominator }: Rate): number => numerator / denominator;

/** A picture that lies by less of a frame beside its place comes in time: files round their times. */
const IN_TIME = 0.25;

/**
 * Lays out pictures, each with the time at which it is to be seen, as frames of one length. Where they come evenly
 * each is a frame; else
 * every frame shows what is to be seen in its middle, at the rate that is nearest to how they mostly come.
 * @param times seconds, rising
 * @param lasts how long the last one is seen, seconds
 * @param says rates that the file itself names
 */
export function layOutFrames(times: readonly number[], lasts: number, says: readonly Rate[] = []): LaidOutFrames {
  const gaps = times.slice(1).map((time, n) => time - times[n]);
  const usual = gaps.length > 0 ? Float64Array.from(gaps).sort()[gaps.length >> 1] : lasts;
  const nearest = RATES.reduce((best, rate) => (off(rate, usual) < off(best, usual) ? rate : best));
  const whole: Rate = { numerator: Math.max(1, Math.round(1000 / usual)), denominator: 1000 };
  const begins = times[0];
  for (const rate of [...says, nearest, whole]) {
    if (!(hertz(rate) > 0 && hertz(rate) <= 240)) continue;
    const step = 1 / hertz(rate);
    if (times.every((time, n) => Math.abs(time - begins - n * step) < IN_TIME * step))
      return { rate, shows: times.map((_, n) => n), even: true };
  }
  const step = 1 / hertz(nearest);
  const many = Math.max(1, Math.round((times[times.length - 1] + lasts - begins) / step));
  const shows: number[] = [];
  for (let frame = 0, picture = 0; frame < many; frame++) {
    while (picture + 1 < times.length && times[picture + 1] - begins <= (frame + 0.5) * step) picture++;
    shows.push(picture);
  }
  return { rate: nearest, shows, even: false };
}

/** How far a rate's frame is from a length, as a factor. */
const off = (rate: Rate, seconds: number): number => Math.abs(Math.log(hertz(rate) * seconds));
