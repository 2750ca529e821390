import { between, mixNumbers, type Key, type Track } from '../time/track';
import { aimedAt } from './aim';
import { SmoothPath } from './path';
import type { Pose, Stance, Vector } from './pose';

export type StanceKey = Key<Stance>;

/** A camera over time. Frames count from 0. */
export interface Move extends Track<Stance> {
  readonly fps: number;
  readonly frames: number;
  /** How the way goes from key to key. */
  readonly path: 'straight' | 'smooth';
  /** By the keys' frames, or at one speed all along the way. */
  readonly pace: 'keys' | 'even';
}

interface Way {
  readonly path: SmoothPath;
  /** The keys as they are passed at one speed, and which of all they are: two at one place are passed at once. */
  readonly even: readonly (StanceKey & { readonly index: number })[];
}
/** Ways are measured once for the keys that they go through. */
const ways = new WeakMap<readonly StanceKey[], Partial<Record<Move['path'], Way>>>();

function wayOf({ keys, path: kind }: Pick<Move, 'keys' | 'path'>): Way {
  const known = ways.get(keys) ?? {};
  ways.set(keys, known);
  return (known[kind] ??= (() => {
    const path = new SmoothPath(
      keys.map((key) => key.value.position),
      kind === 'straight',
    );
    return { path, even: evenly(keys, path) };
  })());
}

/** The same keys at the frames, whole or not, at which one speed passes them; where nothing moves, as they are. */
function evenly(keys: readonly StanceKey[], path: SmoothPath): Way['even'] {
  const lengths = keys.slice(1).map((_, n) => path.length(n));
  const all = lengths.reduce((a, b) => a + b, 0);
  if (all === 0) return keys.map((key, index) => ({ ...key, index }));
  const [first, last] = [keys[0].frame, keys[keys.length - 1].frame];
  let gone = 0;
  const even = keys.map((key, n) => {
    if (n > 0) gone += lengths[n - 1];
    return { ...key, index: n, ease: 'linear' as const, frame: first + ((last - first) * gone) / all };
  });
  return even.filter((key, n) => n === 0 || key.frame > even[n - 1].frame);
}

/** How the camera stands at a frame; frames may lie between whole ones. */
export function poseAt(move: Pick<Move, 'keys' | 'path' | 'pace'>, frame: number): Pose {
  const way = wayOf(move);
  const keys = move.pace === 'even' ? way.even : move.keys;
  const at = between({ keys }, frame);
  if (!at) return aimedAt((frame < keys[0].frame ? keys[0] : keys[keys.length - 1]).value);
  const { from, to, index, share } = at;
  const a = from.value;
  const b = to.value;
  if (share === 0) return aimedAt(a);
  const part = (name: 'pan' | 'tilt' | 'roll' | 'zoom'): number => mixNumbers(a[name], b[name], share);
  const position = way.path.at(move.pace === 'even' ? way.even[index + 1].index - 1 : index, share);
  const aim = a.aim && b.aim ? (a.aim.map((v, i) => mixNumbers(v, b.aim![i], share)) as unknown as Vector) : null;
  const stance: Stance = {
    position,
    aim,
    pan: part('pan'),
    tilt: part('tilt'),
    roll: part('roll'),
    zoom: part('zoom'),
  };
  if (aim || (!a.aim && !b.aim)) return aimedAt(stance);
  // One of them turns by itself: the turn itself goes over.
  const [turnA, turnB] = [aimedAt({ ...stance, aim: a.aim }), aimedAt({ ...stance, aim: b.aim })];
  return {
    ...turnA,
    pan: mixNumbers(turnA.pan, turnB.pan, share),
    tilt: mixNumbers(turnA.tilt, turnB.tilt, share),
  };
}
