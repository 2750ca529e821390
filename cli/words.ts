import { parseArgs, type ParseArgsConfig } from 'node:util';

export const USAGE = `usage:
  cork-twin views --picture F --depth F [--invert] --near PX --far PX \
[--source-eye left|centre|right] [--views N] [--holes keep|fill] --out DIR [--json]
  cork-twin views --plates DIR --near PX --far PX \
[--source-eye left|centre|right] [--views N] [--holes keep|fill] --out DIR [--json]
  cork-twin pack  --left F --right F --as red-cyan-least-squares|red-cyan-grey|\
red-cyan-half-colour|red-cyan-colour|side-by-side|over-under --out F
  cork-twin sheet --views DIR --lpi X --dpi N --width-mm W [--lens-swap] --out F
  cork-twin region --picture F --strokes F [--depth F] --out F
  cork-twin matte  --picture F --trimap F --out F [--clean-colour F]
  cork-twin plates --shot ID --out DIR
  cork-twin fill   --picture F --hole F [--sample-from F] [--method texture|smooth|continue] [--depth F] [--seed N] --out F
  cork-twin reveal --plates DIR --near PX --far PX [--source-eye left|centre|right] [--views N] --out DIR
  cork-twin move   (--shot ID | --plates DIR | --picture F --depth F) \
[--camera F.json] [--size WxH] [--frames A-B] [--eye centre|left|right] --out DIR|F.mp4|F.webm|F.gif [--json]
  cork-twin depth-from-marks --picture F --marks F --out F
  cork-twin depth-from-pair  --left F --right F --out F [--json]
  cork-twin depth-generate   --picture F --out F [--cues JSON] [--network FILE.onnx]
  cork-twin depth-convert    --in F --out F [--near-distance M --far-distance M] [--invert]
  cork-twin carry  --frames DIR|FILE --keys DIR --kind depth|matte --out DIR [--json]
  cork-twin footage --shot ID [--frames A-B] [--as PACKING] --out F

--near and --far are the parallax (xR - xL) of depth white and black, px at the picture's width; \
negative is in front of the screen.
Strokes are white where in, black where out, transparent elsewhere; \
a trimap is white where in, black where out, grey where unsure.
Marks are opaque where depth is known, their grey value the depth (white is near), transparent elsewhere; \
each connected area of one value is a stroke.
A packing of footage is centre, left, right, side-by-side (when none is named), over-under, or an anaglyph as of pack.
Keys are named like their frames (of a video frame_0001 and so on).
Depth files end in .png, .tif, .exr or .pfm. With distances, floats are how far away things are, in the unit given; \
without, depth of 0 (far) to 1 (near).`;

/** The command's words cannot be understood; the usage helps. */
export class WrongWords extends Error {}

/** Reads a command's options; anything unknown, missing or doubled is WrongWords. */
export function readWords<T extends NonNullable<ParseArgsConfig['options']>>(words: readonly string[], options: T) {
  try {
    // A negative number is a value here, not an option: --near -40.
    const joined: string[] = [];
    for (const word of words) {
      const before = joined[joined.length - 1];
      if (/^-\.?\d/.test(word) && before !== undefined && /^--[a-z-]+$/.test(before))
        joined[joined.length - 1] = `${before}=${word}`;
      else joined.push(word);
    }
    return parseArgs({ args: joined, options, strict: true, allowPositionals: false }).values;
  } catch (error) {
    throw new WrongWords((error as Error).message.split('. ')[0]);
  }
}

export function needed(name: string, value: string | undefined): string {
  if (value === undefined || value === '') throw new WrongWords(`--${name} is needed.`);
  return value;
}

export function number(name: string, value: string | undefined, fallback?: number): number {
  if (value === undefined && fallback !== undefined) return fallback;
  const n = Number(needed(name, value));
  if (!Number.isFinite(n)) throw new WrongWords(`--${name} takes a number, not '${value}'.`);
  return n;
}

export function oneOf<T extends string>(
  name: string,
  value: string | undefined,
  allowed: readonly T[],
  fallback?: T,
): T {
  if (value === undefined && fallback !== undefined) return fallback;
  const given = needed(name, value);
  if (!(allowed as readonly string[]).includes(given))
    throw new WrongWords(`--${name} takes ${allowed.join(', ')}, not '${given}'.`);
  return given as T;
}
