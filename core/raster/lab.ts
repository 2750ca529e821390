import type { Picture } from './picture';

/** D65, the white of sRGB (IEC 61966-2-1). */
const WHITE = [0.95047, 1, 1.08883];
/** Linear light of an sRGB value, 0 to 1. */
const linear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
/** The table of CIELAB's f has so many steps; where it is steepest they are .2 of a lightness step of 100. */
const STEPS = 4096;
const EPSILON = (6 / 29) ** 3;
const f = (t: number): number => (t > EPSILON ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);
const ROOTS = Float32Array.from({ length: STEPS + 2 }, (_, n) => f(n / STEPS));
const LINEAR8 = Float32Array.from({ length: 256 }, (_, n) => linear(n / 255));

/**
 * CIELAB of a picture: L 0 to 100, a and b, interleaved, one triple a pixel. Coverage has no part.
 * Source: CIE 15:2018; sRGB by IEC 61966-2-1.
 */
export function labOf({ width, height, bits, data }: Picture): Float32Array {
  const out = new Float32Array(width * height * 3);
  const most = bits === 16 ? 65535 : 255;
  const light = bits === 16 ? Float32Array.from({ length: 65536 }, (_, n) => linear(n / most)) : LINEAR8;
  for (let i = 0, p = 0; i < out.length; i += 3, p += 4) {
    const r = light[data[p]];
    const g = light[data[p + 1]];
    const b = light[data[p + 2]];
    const x = root((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / WHITE[0]);
    const y = root(0.2126729 * r + 0.7151522 * g + 0.072175 * b);
    const z = root((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / WHITE[2]);
    out[i] = 116 * y - 16;
    out[i + 1] = 500 * (x - y);
    out[i + 2] = 200 * (y - z);
  }
  return out;
}

/** CIELAB's f, between the table's steps. */
function root(t: number): number {
  const u = t * STEPS;
  const n = u | 0;
  return ROOTS[n] + (u - n) * (ROOTS[n + 1] - ROOTS[n]);
}
