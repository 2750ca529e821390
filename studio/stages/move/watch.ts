import type { StoreApi } from 'zustand';
import type { FindingKind, GuardedFrame } from '@/core/move/guard/findings';
import { readyMove } from '@/core/camera/ready';
import { wholeScene } from '@/core/scene/sceneAt';
import { handedSize, type MovePart, type ShotDocument } from '@/core/shot/document';
import type { RoomCore } from '../../room/core';
import { findingsOf } from './found';
import { beginMove, moveRoom, type MoveSlice } from './slice';

type Room = RoomCore & MoveSlice;

/** A change must rest so long before the move is looked through, ms. */
const REST_MS = 350;
/** Frames looked through at a time: what is asked meanwhile comes in between. */
const AT_ONCE = 2;
/** How finely the largest strength is found. */
const HALVINGS = 7;
const MOST_STRENGTH = 2;
/** Moments of a ready move that tell whether it can be. */
const MOMENTS = 9;

/** What does not forbid a strength: nothing is missing there. */
const PASSABLE: ReadonlySet<FindingKind> = new Set(['judder', 'jump', 'stretched']);

/** What of the source is handed over. */
function partOf(document: ShotDocument) {
  const { width, height } = handedSize(document);
  const { left, top } = document.frame ?? { left: 0, top: 0 };
  return { left, top, right: left + width, bottom: top + height };
}

/** Who looks. */
const eyesOf = (both: boolean): readonly (number | null)[] => (both ? [null, -0.5, 0.5] : [null]);

/** Frames in an order in which every part of the move is soon known. */
export function spread(count: number): number[] {
  const order: number[] = [];
  for (let step = 16; step >= 1; step /= 2)
    for (let n = 0; n < count; n += step) if (step === 16 || n % (step * 2) !== 0) order.push(n);
  return order;
}

/**
 * Looks the move through in the background whenever it, its scene or its pixels have changed; the newest change
 * counts.
 */
export class Watch {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running = 0;
  private seen = '';
  private readonly stop: () => void;

  constructor(private readonly store: StoreApi<Room>) {
    this.stop = store.subscribe((now, before) => {
      if (
        now.document !== before.document ||
        now.preview !== before.preview ||
        now.rasterTicket !== before.rasterTicket ||
        now.watchEyes !== before.watchEyes
      )
        this.wake();
    });
    this.wake();
  }

  end(): void {
    this.running++;
    clearTimeout(this.timer);
    this.stop();
  }

  private wake(): void {
    const s = this.store.getState();
    const { document, preview } = s;
    const { viewing, move, frame } = document;
    const now = JSON.stringify([
      wholeScene(document).version,
      move,
      viewing,
      frame,
      s.rasterTicket,
      preview !== undefined,
      s.watchEyes,
    ]);
    if (now === this.seen) return;
    this.seen = now;
    this.running++;
    clearTimeout(this.timer);
    if (move && preview) this.timer = setTimeout(() => void this.look(), REST_MS);
    else if (s.guarded !== undefined) s.set({ guarded: undefined });
  }

  private async look(): Promise<void> {
    const mine = this.running;
    const { document, preview, watchEyes, set } = this.store.getState();
    const { move } = document;
    if (!move || !preview) return;
    const scene = wholeScene(document);
    const order = spread(move.frames);
    const known: GuardedFrame[] = [];
    const part = partOf(document);
    for (let n = 0; n < order.length; n += AT_ONCE) {
      const frames = order.slice(n, n + AT_ONCE);
      const made = await preview
        .guardedFrames({ scene, move, part, frames, eyes: eyesOf(watchEyes) })
        .catch(() => undefined);
      if (mine !== this.running || !made) return;
      known.push(...made);
      const done = n + AT_ONCE >= order.length;
      if (done || n % 24 === 0)
        set({
          guarded: {
            frames: [...known].sort((a, b) => a.frame - b.frame),
            share: Math.min(1, known.length / order.length),
          },
        });
    }
  }
}

/** The largest strength of a ready move that leaves nothing to see; 0 where there is none. */
export async function mostAllowed(s: Room, kind: string): Promise<number> {
  const ready = readyMove(kind);
  const { document, preview, active } = s;
  if (!ready || !preview) return 0;
  const scene = wholeScene(document);
  const room = moveRoom(document, active);
  const base = document.move ?? beginMove(document);
  const part = partOf(document);
  const frames = Array.from({ length: MOMENTS }, (_, n) => Math.round(((base.frames - 1) * n) / (MOMENTS - 1)));
  const allows = async (strength: number): Promise<boolean> => {
    const move: MovePart = { ...base, path: ready.path, keys: ready.keys(room, strength) as MovePart['keys'] };
    const seen = await preview.guardedFrames({ scene, move, part, frames, eyes: eyesOf(s.watchEyes) });
    const found = seen && findingsOf(seen, document, move);
    return found?.every(({ kind: what }) => PASSABLE.has(what)) ?? false;
  };
  if (await allows(MOST_STRENGTH)) return MOST_STRENGTH;
  let low = 0;
  let high = MOST_STRENGTH;
  for (let n = 0; n < HALVINGS; n++) {
    const middle = (low + high) / 2;
    if (await allows(middle)) low = middle;
    else high = middle;
  }
  return Math.floor(low * 100) / 100;
}
