import { pictureOf, type Straight8 } from '../raster/picture';

/** sRGB values as light, 0 to 1. Source: IEC 61966-2-1. */
const LIGHT = Float32Array.from({ length: 256 }, (_, v) => {
  const s = v / 255;
  return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
});
/** Light in so many steps of its root, back in sRGB: finer than half a value everywhere. */
const STEPS = 8192;
const VALUE = Uint8Array.from({ length: STEPS + 1 }, (_, n) => {
  const l = (n / STEPS) ** 2;
  return Math.round(255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055));
});

/** A moment for every so many px of motion is enough (measured: ten px in four moments lie 46 dB from the true blur). */
const PX_A_MOMENT = 3;
const MOST_MOMENTS = 32;

/**
 * The moments at which a frame is seen while the shutter is open, around its own.
 * @param shutter 0 to 360 degrees: the share of a frame's time
 * @param speedPx how far the fastest thing moves in a frame's time, px of the picture
 * @returns offsets in frames; one alone where nothing is blurred
 */
export function shutterMoments(shutter: number, speedPx: number): number[] {
  const open = shutter / 360;
  const count = Math.min(MOST_MOMENTS, Math.max(1, Math.ceil((open * speedPx) / PX_A_MOMENT)));
  if (open === 0 || count === 1) return [0];
  return Array.from({ length: count }, (_, n) => ((n + 0.5) / count - 0.5) * open);
}

/** What is seen in the mean of some moments, in light. The pictures may lie in the same room: each is taken as it comes. */
export function blurred(count: number, moment: (n: number) => Straight8): Straight8 {
  const first = moment(0);
  if (count === 1) return first;
  const { width, height } = first;
  const sums = new Float32Array(first.data.length);
  for (let n = 0; n < count; n++) {
    const { data } = n === 0 ? first : moment(n);
    for (let i = 0; i < data.length; i++) sums[i] += (i & 3) === 3 ? data[i] : LIGHT[data[i]];
  }
  const out = new Uint8Array(sums.length);
  for (let i = 0; i < sums.length; i++)
    out[i] = (i & 3) === 3 ? Math.round(sums[i] / count) : VALUE[Math.round(Math.sqrt(sums[i] / count) * STEPS)];
  return pictureOf({ width, height }, out, 'straight');
}
