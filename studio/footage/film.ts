import equal from 'fast-deep-equal';
import type { StoreApi } from 'zustand';
import { footageRange, type ShotDocument } from '@/core/shot/document';
import { api, Refusal } from '../api';
import type { RoomCore } from '../room/core';
import { frameAt } from '../time/frameAt';
import { ProxyFrames } from './proxyFrames';

/** A frame that is looked at so long is worked at, ms. */
const REST_MS = 140;
/** So often the server is asked how far the small pictures are, ms. */
const FOLLOW_MS = 600;
/** And so often where something stopped it, which may pass, ms. */
const STOPPED_MS = 10_000;
/** So many frames are fetched ahead of the one that is seen, and behind it. */
const AHEAD = 24;
const BEHIND = 6;

/** How it goes on at the end. */
export type RollMode = 'once' | 'loop' | 'there-and-back';

/** All that is carried comes from these: what is known of the frames may be others now. */
const keysOf = ({ footage, plates, holePx }: ShotDocument): unknown => [
  footage?.keys,
  footage?.fills,
  plates.map(({ keys }) => keys),
  holePx,
];

/** Shows the frames of footage as small pictures at once, and has the room follow where the hand rests. */
export class Film {
  readonly frames: ProxyFrames;
  mode: RollMode = 'loop';
  private began = 0;
  private rest: ReturnType<typeof setTimeout> | undefined;
  private following: ReturnType<typeof setTimeout> | undefined;
  private ended = false;
  /** Why the small pictures cannot be made, as it was said last. */
  private told: string | null = null;
  private readonly stop: () => void;

  constructor(private readonly store: StoreApi<RoomCore>) {
    const { shot, document } = store.getState();
    const { mediaId } = document.source;
    this.frames = new ProxyFrames(
      (frame) => `/api/shots/${shot.id}/footage/proxy?media=${mediaId}&frame=${frame}`,
      (frame) => frame < (store.getState().footage?.proxies.ready ?? 0),
    );
    this.stop = store.subscribe((now, before) => {
      if (now.rolls !== before.rolls) this.rolled(now.rolls);
      else if (now.moment !== before.moment && !now.rolls) this.stepped();
      // The last stroke of the frame before is stored: the document may follow.
      if (now.unstored.length === 0 && before.unstored.length > 0 && !now.rolls) this.stepped();
      if (now.shot !== before.shot && !equal(keysOf(now.shot.document), keysOf(before.shot.document)))
        void this.follow();
    });
    void this.follow();
  }

  end(): void {
    this.ended = true;
    this.stop();
    clearTimeout(this.rest);
    clearTimeout(this.following);
    this.store.getState().roll(false);
    this.frames.end();
  }

  /** Asks how far the frames are, until they are all there. */
  private async follow(): Promise<void> {
    clearTimeout(this.following);
    const s = this.store.getState();
    let again = FOLLOW_MS;
    try {
      const state = await api.footage(s.shot.id);
      if (this.ended) return;
      s.takeFootage(state);
      const { ready, frames, problem } = state.proxies;
      if (problem !== null && problem !== this.told) s.notify('error', problem);
      this.told = problem;
      if (problem === null && ready === frames) return;
      if (problem !== null) again = STOPPED_MS;
    } catch (error) {
      if (this.ended || (error instanceof Refusal && !error.passing)) return;
    }
    this.following = setTimeout(() => void this.follow(), again);
  }

  /** Another frame is seen. */
  private stepped(): void {
    clearTimeout(this.rest);
    const { moment, ways, stage, document } = this.store.getState();
    if (ways[stage] === 'picture' && document.source.moment !== moment) void this.show(moment);
    this.rest = setTimeout(() => {
      const s = this.store.getState();
      if (!s.rolls) s.settleMoment();
      void this.frames.ahead(this.around(s.moment));
    }, REST_MS);
  }

  private async show(moment: number): Promise<void> {
    const frame = await this.frames.get(moment);
    const s = this.store.getState();
    if (frame && !this.ended && s.moment === moment && s.document.source.moment !== moment) s.showFrame?.(frame);
  }

  private around(moment: number): number[] {
    const { frames } = this.store.getState().document.footage!;
    const wanted: number[] = [];
    for (let n = 1; n <= AHEAD; n++) {
      if (moment + n < frames) wanted.push(moment + n);
      if (n <= BEHIND && moment - n >= 0) wanted.push(moment - n);
    }
    return wanted;
  }

  private rolled(rolls: boolean): void {
    const { moment, document } = this.store.getState();
    const { footage } = document;
    if (!footage) return;
    if (!rolls) {
      // What was played is no look of the way that is seen: it is asked for, also where the document stands at this
      // frame already.
      const { trialTicket, set } = this.store.getState();
      set({ trialTicket: trialTicket + 1 });
      this.stepped();
      return;
    }
    const { first, last } = footageRange(footage);
    const from = moment >= last && this.mode === 'once' ? first : Math.max(first, Math.min(last, moment));
    this.began = performance.now() - (from - first) * this.step();
    requestAnimationFrame(this.tick);
    void this.fill();
  }

  /** Length of a frame, ms. */
  private step(): number {
    const { numerator, denominator } = this.store.getState().document.footage!.rate;
    return (1000 * denominator) / numerator;
  }

  private readonly tick = (): void => {
    const s = this.store.getState();
    const { footage } = s.document;
    if (this.ended || !s.rolls || !footage) return;
    const { first, last } = footageRange(footage);
    const played = Math.floor((performance.now() - this.began) / this.step());
    const moment = frameAt(played, first, last, this.mode);
    const frame = this.frames.have(moment);
    // What has not come yet is left out: time goes on.
    if (frame && (moment !== s.moment || played === 0)) s.showFrame?.(frame);
    if (moment !== s.moment) s.goTo(moment);
    if (this.mode === 'once' && played >= last - first) s.roll(false);
    else requestAnimationFrame(this.tick);
  };

  /** Fetches what is played next, as long as it rolls. */
  private async fill(): Promise<void> {
    for (;;) {
      const s = this.store.getState();
      if (this.ended || !s.rolls || !s.document.footage) return;
      const { first, last } = footageRange(s.document.footage);
      const played = Math.floor((performance.now() - this.began) / this.step());
      const wanted: number[] = [];
      for (let n = 0; n < 2 * AHEAD; n++) wanted.push(frameAt(played + n, first, last, this.mode));
      await Promise.all([this.frames.ahead(wanted), new Promise((done) => setTimeout(done, 20))]);
    }
  }
}
