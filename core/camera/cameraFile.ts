import { z } from 'zod';
import { CoreError } from '../error';
import { FASTEST, SLOWEST } from '../time/rate';
import type { Move } from './move';
import { middleOf, type SourceCamera } from './sourceCamera';
import type { Size } from '../kind';

/** Most frames of a move: a minute at the fastest rate. */
export const MOST_FRAMES = 60 * FASTEST;

const far = z.number().min(-1e6).max(1e6);
const degrees = z.number().min(-720).max(720);
const keySchema = z.strictObject({
  frame: z.number().int().min(0).max(MOST_FRAMES),
  position: z.tuple([far, far, far]).default([0, 0, 0]),
  pan: degrees.default(0),
  tilt: degrees.default(0),
  roll: degrees.default(0),
  zoom: z.number().min(0.01).max(100).default(1),
  ease: z.enum(['linear', 'gentle', 'hold']).default('linear'),
});

/** A camera over time, as a file. Described in docs/formats.md. */
export const cameraFileSchema = z.strictObject({
  version: z.literal(1),
  fps: z.number().min(SLOWEST).max(FASTEST),
  frames: z.number().int().min(1).max(MOST_FRAMES),
  focalPx: z.number().min(1).max(1e6),
  principalPoint: z.tuple([far, far]).optional(),
  near: z.number().positive().max(1e6),
  far: z.number().positive().max(1e9).nullable(),
  keys: z.array(keySchema).min(1).max(MOST_FRAMES),
});

/**
 * Reads a camera file.
 * @param source the picture that it was made for
 * @throws CoreError `bad-camera`, with the name of the field
 */
export function readCamera(text: string, name: string, source: Size): { camera: SourceCamera; move: Move } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new CoreError('bad-camera', `${name} is no JSON: ${(error as Error).message}.`);
  }
  const parsed = cameraFileSchema.safeParse(json);
  if (!parsed.success) {
    const { path, message, code } = parsed.error.issues[0];
    const unknown = code === 'unrecognized_keys' ? (parsed.error.issues[0] as { keys: string[] }).keys : [];
    throw new CoreError('bad-camera', `${name}: ${nameOf([...path, ...unknown.slice(0, 1)])}: ${message}.`);
  }
  const { fps, frames, focalPx, principalPoint, near, far: farthest, keys } = parsed.data;
  const wrong = (field: string, why: string): never => {
    throw new CoreError('bad-camera', `${name}: ${field}: ${why}`);
  };
  if (farthest !== null && farthest <= near) wrong('far', `must be farther than near (${near}).`);
  for (let n = 1; n < keys.length; n++)
    if (keys[n].frame <= keys[n - 1].frame)
      wrong(`keys[${n}].frame`, `must come after that of the key before it (${keys[n - 1].frame}).`);
  return {
    camera: {
      focalPx,
      principalPoint: principalPoint ? { x: principalPoint[0], y: principalPoint[1] } : middleOf(source),
      near,
      far: farthest ?? Infinity,
    },
    move: {
      fps,
      frames,
      path: 'straight',
      pace: 'keys',
      keys: keys.map(({ frame, ease, ...pose }) => ({ frame, ease, value: { ...pose, aim: null } })),
    },
  };
}

/** A field's name as one would write it: keys[0].zoom. */
const nameOf = (path: readonly PropertyKey[]): string =>
  path.map((part, n) => (typeof part === 'number' ? `[${part}]` : `${n > 0 ? '.' : ''}${String(part)}`)).join('') ||
  'the file';
