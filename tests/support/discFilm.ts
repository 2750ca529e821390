import { filmOf, HIGH, WIDE } from './film';

// A patterned orange disc that goes to the right in front of a grey ground that stands still.

/** The disc's radius, and how far it goes a frame, px. */
export const RADIUS = 16;
const GOES = 6;

/** Where its middle is in a frame. */
export const discAt = (n: number): readonly [x: number, y: number] => [50 + GOES * n, 60];
export const inDisc = (x: number, y: number, n: number): boolean =>
  Math.hypot(x - discAt(n)[0], y - discAt(n)[1]) < RADIUS;
/** Grey of what lies behind it. */
export const groundAt = (x: number, y: number): number => 128 + 50 * Math.sin(x * 0.21) * Math.cos(y * 0.17);

function frame(n: number): Buffer {
  const data = Buffer.alloc(WIDE * HIGH * 3);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i += 3) {
      const grey = groundAt(x, y);
      const disc = 150 + 40 * Math.sin((x - discAt(n)[0]) * 0.5) * Math.cos((y - discAt(n)[1]) * 0.4);
      data.set(inDisc(x, y, n) ? [disc, disc * 0.5, 30] : [grey, grey, grey], i);
    }
  return data;
}

/** Writes it as a film, hardly compressed. */
export const discFilm = (path: string, count: number): string =>
  filmOf(
    path,
    Array.from({ length: count }, (_, n) => frame(n)),
    '24',
    ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-crf', '4'],
  );
