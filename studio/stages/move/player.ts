import { rangeOf } from '@/core/shot/document';
import type { StoreApi } from 'zustand';
import { manyViews } from '@/compute/lenses/moved';
import { secondsOf } from '@/core/time/rate';
import { sceneAt, wholeScene } from '@/core/scene/sceneAt';
import type { RoomCore } from '../../room/core';
import { frameAt } from '../../time/frameAt';
import { FrameMemory } from './memory';
import { movedAsk, type MoveSlice } from './slice';

type Room = RoomCore & MoveSlice;

/**
 * Plays the move at its true rate from frames in memory, and renders them ahead: what is played next comes first. What
 * changes while it plays is rendered anew, and shows when it is there.
 */
export class Player {
  private readonly memory = new FrameMemory();
  private began = 0;
  private filling = false;
  private ended = false;
  private shown: number | undefined;
  private readonly stop: () => void;

  constructor(private readonly store: StoreApi<Room>) {
    this.stop = store.subscribe((now, before) => {
      if (now.playing !== before.playing) this.follow(now.playing);
      else if (now.playing && (now.document !== before.document || now.beside !== before.beside)) void this.fill();
    });
  }

  end(): void {
    this.ended = true;
    this.stop();
    this.memory.clear();
    this.store.getState().play(false);
  }

  private follow(playing: boolean): void {
    if (!playing) return;
    const { needle, document } = this.store.getState();
    const { move } = document;
    if (!move) return;
    const { first, last } = rangeOf(move);
    const from = needle >= last && move.play === 'once' ? first : Math.max(first, Math.min(last, needle));
    this.began = performance.now() - 1000 * secondsOf(from - first, move.fps);
    this.shown = undefined;
    requestAnimationFrame(this.tick);
    void this.fill();
  }

  private readonly tick = (): void => {
    const s = this.store.getState();
    const { move } = s.document;
    if (this.ended || !s.playing || !move) return;
    const { first, last } = rangeOf(move);
    const played = Math.floor((performance.now() - this.began) / (1000 * secondsOf(1, move.fps)));
    const frame = frameAt(played, first, last, move.play);
    if (frame !== this.shown) {
      const held = this.memory.get(frame);
      if (held) {
        this.shown = frame;
        s.showFrame?.(held);
      }
      s.set({ needle: frame });
    }
    if (move.play === 'once' && played >= last - first) s.play(false);
    else requestAnimationFrame(this.tick);
  };

  private version(s: Room, frame: number): string {
    const { version } = sceneAt(wholeScene(s.document), s.document.move, frame);
    const { way, flipped, beside } = movedAsk(s, frame);
    return `${version} ${way} ${flipped} ${JSON.stringify(beside)} ${s.rasterTicket}`;
  }

  /** Renders what is not in memory, from the needle on, until all is. */
  private async fill(): Promise<void> {
    if (this.filling) return;
    this.filling = true;
    try {
      for (;;) {
        const s = this.store.getState();
        const { move } = s.document;
        if (this.ended || !move || !s.preview || s.stage !== 'move') break;
        const { first, last } = rangeOf(move);
        const count = last - first + 1;
        const missing: number[] = [];
        let inMemory = 0;
        for (let n = 0; n < count; n++) {
          const frame = first + ((s.needle - first + 1 + n + count) % count);
          if (this.memory.get(frame)?.version === this.version(s, frame)) inMemory++;
          else if (missing.length < 2) missing.push(frame);
        }
        if (s.inMemory !== inMemory) s.set({ inMemory });
        // Playing on from what there is would only push out what comes next.
        if (missing.length === 0 || (!s.playing && this.memory.full)) break;
        await this.render(s, missing, count);
      }
    } catch (error) {
      this.store.getState().notify('error', `The move could not be rendered: ${(error as Error).message}`);
      this.store.getState().play(false);
    } finally {
      this.filling = false;
    }
  }

  private async render(s: Room, missing: readonly number[], count: number): Promise<void> {
    const { move } = s.document;
    const scene = wholeScene(s.document);
    const frames = manyViews(movedAsk(s, 0)) ? missing.slice(0, 1) : missing;
    const made = await s.preview!.movedFrames(
      frames.map((frame) => sceneAt(scene, move, frame)),
      frames.map((frame) => movedAsk(s, frame)),
    );
    if (this.ended || !made) return;
    const { needle } = this.store.getState();
    frames.forEach((frame, n) => {
      this.memory.put(frame, { ...made[n], version: this.version(s, frame) }, needle, count);
    });
  }
}
