import type { MovedAsk } from '@/compute/lenses/moved';
import { poseAt } from '@/core/camera/move';
import { STANDING } from '@/core/camera/pose';
import { readyMove, type MoveRoom } from '@/core/camera/ready';
import { wholeScene } from '@/core/scene/sceneAt';
import { AT_REST, type Pose } from '@/core/camera/pose';
import { FASTEST, rateOf, secondsOf, SLOWEST } from '@/core/time/rate';
import type { CameraKey, MovePart, ShotDocument } from '@/core/shot/document';
import type { GuardedFrame } from '@/core/move/guard/findings';
import { isFlat } from '@/compute/look';
import { sliceHooks } from '../../room/context';
import type { RoomCore, SliceRoom } from '../../room/core';

/** What the move stage knows. */
export interface MoveSlice {
  /** The frame that is seen, from 0. */
  needle: number;
  playing: boolean;
  /** What is asked of the preview while it plays: frames come from memory then. */
  still: MovedAsk | undefined;
  /** Frames in memory, of all that are played. */
  inMemory: number;
  /** The guard looks through both eyes, not only the camera. */
  watchEyes: boolean;
  /** What the guard knows, and of which share of the move; undefined while nothing moves. */
  guarded: { readonly frames: readonly GuardedFrame[]; readonly share: number } | undefined;
  /** Thin lines show where plates are at the first and the last frame. */
  ghosts: boolean;
  /** Neither needle nor camera has moved for a moment: there is time to look closely. */
  rested: boolean;
  /** The kept version that is shown at the right, by its place; null: none. */
  beside: number | null;
  /** The string is open: its curve is shown. */
  curve: boolean;
  /** Which value the curve shows; null: the one that changes most. */
  channel: string | null;
  /** A bead that was copied. */
  copied: Pick<CameraKey, 'value' | 'ease'> | null;
  /** The chosen bead, by its place among the keys; null: none. */
  bead: number | null;
  /** Changes the move; shown at once, stored by `keep`. */
  tryMove(part: Partial<MovePart>): void;
  /** Makes a ready move in place of what is there. */
  makeReady(kind: string, strength: number): void;
  seek(frame: number): void;
  play(on: boolean): void;
}

export const { useSlice: useMove, useSliceStore: useMoveStore } = sliceHooks<MoveSlice>();

/** A move as it begins: five seconds that stand still. */
export const BEGIN_MOVE: MovePart = {
  fps: 24,
  frames: 120,
  path: 'smooth',
  pace: 'keys',
  play: 'loop',
  range: null,
  ready: null,
  keys: [{ frame: 0, ease: 'gentle', value: STANDING as MovePart['keys'][number]['value'] }],
};

/** How a move begins: over a film it is as long as that, at its rate. */
export function beginMove({ footage }: Pick<ShotDocument, 'footage'>): MovePart {
  if (!footage) return BEGIN_MOVE;
  const { numerator, denominator } = footage.rate;
  const fps = Math.min(FASTEST, Math.max(SLOWEST, numerator / denominator));
  return { ...BEGIN_MOVE, fps, frames: footage.frames, play: 'loop' };
}

/** The room of a document for ready moves. @param active the plate in work; null: the back plate */
export function moveRoom(document: ShotDocument, active: string | null): MoveRoom {
  const { camera, width, height } = wholeScene(document);
  const plate = document.plates.find((p) => p.id === active);
  const depth = plate ? (plate.depth.near + plate.depth.far) / 2 : 0.5;
  return { camera, width, height, frames: (document.move ?? beginMove(document)).frames, depth };
}

/** How the camera stands at the same time in the version that is shown beside; null where none is. */
function poseBeside(
  { document, beside }: Pick<RoomCore & MoveSlice, 'document' | 'beside'>,
  frame: number,
): Pose | null {
  const other = beside === null ? undefined : document.keptMoves[beside]?.move;
  if (!other || !document.move) return null;
  const { numerator, denominator } = rateOf(other.fps);
  const at = Math.round((secondsOf(frame, document.move.fps) * numerator) / denominator);
  return poseAt(other, Math.min(other.frames - 1, at));
}

/** What the preview is asked for at a frame of the move. */
export function movedAsk(s: RoomCore & Pick<MoveSlice, 'beside' | 'rested'>, frame: number): MovedAsk {
  const { height, camera, rig } = wholeScene(s.document);
  const way = s.ways[s.stage];
  const pose = s.document.move ? poseAt(s.document.move, frame) : AT_REST;
  return {
    lens: 'moved',
    way: isFlat(way) ? 'picture' : way,
    flipped: s.flipped,
    at: { height, camera, rig, pose },
    beside: poseBeside(s, frame),
    closer: s.closer && s.rested,
  };
}

export function moveSlice({ get, set }: SliceRoom<MoveSlice>): MoveSlice {
  return {
    needle: 0,
    playing: false,
    still: undefined,
    inMemory: 0,
    watchEyes: false,
    guarded: undefined,
    ghosts: false,
    rested: false,
    beside: null,
    curve: false,
    channel: null,
    copied: null,
    bead: null,
    tryMove: (part) => {
      const now = get().document.move ?? beginMove(get().document);
      // What a hand has changed is no ready move any more.
      const ready = part.ready === undefined && part.keys ? null : (part.ready ?? now.ready);
      get().try({ move: { ...now, ...part, ready } });
    },
    makeReady: (kind, strength) => {
      const ready = readyMove(kind);
      if (!ready) return;
      const { document, active } = get();
      const keys = ready.keys(moveRoom(document, active), strength) as MovePart['keys'];
      get().tryMove({ keys, path: ready.path, ready: { kind, strength } });
      set({ bead: null });
    },
    seek: (frame) => {
      const { frames } = get().document.move ?? beginMove(get().document);
      set({ needle: Math.min(frames - 1, Math.max(0, Math.round(frame))) });
    },
    play: (on) => {
      const s = get();
      if (on === s.playing || (on && !s.document.move)) return;
      set({ playing: on, still: on ? movedAsk(s, s.needle) : undefined });
    },
  };
}
