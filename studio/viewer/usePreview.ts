'use client';

import { transfer, proxy } from 'comlink';
import equal from 'fast-deep-equal';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { StoreApi } from 'zustand';
import type { LookRequest } from '@/compute/lenses';
import { PREVIEW_SIDE } from '@/compute/layer/addresses';
import { isFlat, type Look } from '@/compute/look';
import { sceneOf } from '@/core/scene/sceneOf';
import { useRoomStore } from '../room/context';
import type { RoomCore } from '../room/core';
import { stageOf } from '../stages';
import { FrameStack, type Camera, type ShownFrame } from './frames';
import { startPreview, type Preview } from './preview';
import type { PreviewControl } from './previewControl';
import { differsOnlyBy, namesWithLook, rasterNames } from './rasterNames';

const ROCK_MS = 220;
/** Smaller frames are not worth giving back, bytes. */
const WORTH_GIVING = 1 << 20;

/** What the preview shall draw: the eyes' views, or what the stage shows of the source. */
export function lookRequest(s: RoomCore): LookRequest {
  const way = s.ways[s.stage];
  const scene = sceneOf(s.document);
  const { flipped, markReveal } = s;
  const eyes = stageOf(s.stage).eyes;
  if (!isFlat(way)) return { scene, ask: eyes?.(s as never) ?? { lens: 'eyes', way, flipped, markReveal } };
  return { scene, ask: stageOf(s.stage).lens(s as never) };
}

/** Footage is played, or stepped through as a picture: what the preview draws is of the frame before. */
const seenAhead = ({ rolls, moment, document, ways, stage }: RoomCore): boolean =>
  document.footage !== null && (rolls || (moment !== document.source.moment && ways[stage] === 'picture'));

/** The canvases that the frames are shown in. */
export interface Canvases {
  readonly whole: RefObject<HTMLCanvasElement | null>;
  readonly detail: RefObject<HTMLCanvasElement | null>;
  readonly rest: RefObject<HTMLCanvasElement | null>;
}

/** Opens the shot in the worker and keeps the canvases true to the room's state. */
export function usePreview({ whole, detail, rest }: Canvases): PreviewControl {
  const store = useRoomStore();
  const held = useRef<Preview | undefined>(undefined);
  const frames = useRef<FrameStack | undefined>(undefined);
  const [state, setState] = useState<PreviewControl['state']>('loading');
  const [attempt, setAttempt] = useState(0);
  const busy = useRef(false);
  const again = useRef(false);

  const request = useCallback(() => lookRequest(store.getState()), [store]);

  const take = useCallback(
    (look: Look | undefined) => {
      if (!look || !frames.current) return;
      const ahead = seenAhead(store.getState());
      const given = ahead ? look.frames.map((frame) => frame.data.buffer) : frames.current.take(look);
      const buffers = given.filter(({ byteLength }) => byteLength >= WORTH_GIVING);
      if (buffers.length > 0) void held.current?.remote.giveBack(transfer(buffers, buffers));
      if (look.parts || ahead) return;
      const { looks, set } = store.getState();
      set({ looks: looks + 1, revealedShare: look.revealedShare });
    },
    [store],
  );

  const ask = useCallback(() => {
    const preview = held.current;
    if (!preview) return;
    if (busy.current) {
      again.current = true;
      return;
    }
    busy.current = true;
    whole.current?.setAttribute('aria-busy', 'true');
    const began = performance.now();
    const done = (): boolean => {
      if (held.current !== preview) return false;
      busy.current = false;
      whole.current?.setAttribute('aria-busy', String(again.current));
      return true;
    };
    preview.remote.look(request()).then(
      (look) => {
        if (!done()) return;
        take(look);
        performance.measure('look-shown', { start: began });
        if (!again.current) return;
        again.current = false;
        ask();
      },
      (error: unknown) => {
        if (done()) store.getState().notify('error', `The preview could not be drawn: ${(error as Error).message}`);
      },
    );
  }, [request, store, take, whole]);

  useEffect(() => {
    const { shot } = store.getState();
    const preview = startPreview();
    const stack = new FrameStack([whole.current!, detail.current!], rest.current!);
    const ended = new AbortController();
    held.current = preview;
    frames.current = stack;
    busy.current = false;
    const { source } = shot.document;
    const size = { id: shot.id, width: source.width, height: source.height };
    preview.remote.open(size, rasterNames(store.getState().document), PREVIEW_SIDE).then(
      () => {
        if (ended.signal.aborted) return;
        setState('ready');
        store
          .getState()
          .set({ preview: preview.remote, showFrame: (frame: ShownFrame | ImageBitmap) => stack.showFrame(frame) });
        void preview.remote.onCounted(proxy(ask));
        void preview.remote.onSolving(
          proxy((share: number) => {
            store.getState().set({ solving: share < 1 ? share : undefined });
            if (share === 1) ask();
          }),
        );
        ask();
      },
      (error: unknown) => {
        if (!ended.signal.aborted) setState({ failed: (error as Error).message });
      },
    );
    const stops = [
      followState(store, ask),
      followRasters(store, preview, ask),
      // On another canvas everything is opened anew.
      store.subscribe((s) => {
        if (s.shot.document.source.mediaId === source.mediaId) return;
        setState('loading');
        setAttempt((n) => n + 1);
      }),
    ];
    const rock = setInterval(() => {
      const s = store.getState();
      if (s.ways[s.stage] === 'rock' && !document.hidden) s.set({ flipped: !s.flipped });
    }, ROCK_MS);
    return () => {
      ended.abort();
      stops.forEach((stop) => {
        stop();
      });
      clearInterval(rock);
      stack.end();
      store.getState().set({ preview: undefined, showFrame: undefined });
      held.current = undefined;
      frames.current = undefined;
      preview.end();
    };
  }, [store, ask, attempt, whole, detail, rest]);

  const place = useCallback((camera: Camera) => frames.current?.place(camera), []);
  const retry = useCallback(() => {
    setState('loading');
    setAttempt((n) => n + 1);
  }, []);
  return { state, request, ask, take, place, retry };
}

/** Asks for a look whenever what it depends on has changed. */
function followState(store: StoreApi<RoomCore>, ask: () => void): () => void {
  let asked: LookRequest | undefined;
  let trial = store.getState().trialTicket;
  return store.subscribe((s) => {
    const next = lookRequest(s);
    const same = next.scene.version === asked?.scene.version && equal(next.ask, asked.ask);
    if (same && s.trialTicket === trial) return;
    trial = s.trialTicket;
    asked = next;
    ask();
  });
}

/** Has other rasters taken whenever the document names others. */
function followRasters(store: StoreApi<RoomCore>, { remote }: Preview, ask: () => void): () => void {
  let { document: seen, workLook: look, depthTicket: ticket } = store.getState();
  let known = rasterNames(seen);
  return store.subscribe((s) => {
    const force = s.depthTicket !== ticket;
    if (s.document === seen && s.workLook === look && !force) return;
    seen = s.document;
    look = s.workLook;
    const next = namesWithLook(seen, look);
    // Another source is opened anew.
    if (next.media !== known.media || (equal(next, known) && !force)) return;
    const mine = differsOnlyBy(s.ownRevision, next, known);
    known = next;
    ticket = s.depthTicket;
    if (mine && !force) {
      void remote.nameRasters(next, s.unstored);
      return;
    }
    const settledHand = s.hands.reduce((n, hand) => (hand.stored ? hand.n : n), 0);
    remote.takeRasters(next, { settledHand, unstored: s.unstored }, force).then(
      (taken) => {
        if (!taken) return;
        const now = store.getState();
        now.set({
          hoverDepth: undefined,
          hands: now.hands.filter((hand) => hand.n > settledHand),
          rasterTicket: now.rasterTicket + 1,
        });
        ask();
      },
      () => {
        // Fetched when the document names others again, or when somebody tries.
        known = { ...known, depth: '' };
      },
    );
  });
}
