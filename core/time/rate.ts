/** Frames a second as a fraction, so that 23.976 and 29.97 are exact. */
export interface Rate {
  readonly numerator: number;
  readonly denominator: number;
}

export const SLOWEST = 12;
export const FASTEST = 60;

/**
 * The rate that a number of frames a second means. Numbers a thousandth below a whole one, as 23.976, 29.97 and 59.94 are, are that number
 * times 1000 / 1001.
 * Source: SMPTE ST 170 (30000/1001); 24000/1001 and 60000/1001 after it.
 */
export function rateOf(fps: number): Rate {
  const whole = Math.round(fps);
  if (Math.abs(fps - whole) < 1e-9) return { numerator: whole, denominator: 1 };
  const up = Math.ceil(fps);
  if (Math.abs(fps - (up * 1000) / 1001) < 0.006) return { numerator: up * 1000, denominator: 1001 };
  return { numerator: Math.round(fps * 1000), denominator: 1000 };
}

/** Seconds that a number of frames takes. */
export const secondsOf = (frames: number, fps: number): number => {
  const { numerator, denominator } = rateOf(fps);
  return (frames * denominator) / numerator;
};
