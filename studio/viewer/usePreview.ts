'use client';

import equal from 'fast-deep-equal';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { Look, LookRequest } from '@/compute/ways';
import { useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import { FrameStack, type Camera } from './frames';
import { startPreview, type Preview } from './preview';

const PREVIEW_SIDE = 1280;
const ROCK_MS = 220;

export function lookRequest(s: RoomState): LookRequest {
  const { budget, sourceEye, swapEyes, tearPx, depth, source } = s.document;
  return {
    way: s.ways[s.stage], flipped: s.flipped, markReveal: s.markReveal, depthStrength: s.depthStrength, contourPx: contourStep(budget.farPx - budget.nearPx),
    document: { budget, sourceEye, swapEyes, tearPx, depth: { near: depth.near, far: depth.far }, source: { width: source.width } },
  };
}

/** A round step that gives some 40 contours over all depth. */
export function contourStep(allPx: number): number {
  const rough = Math.max(0.01, Math.abs(allPx) / 40);
  const power = 10 ** Math.floor(Math.log10(rough));
  return [1, 2, 5, 10].map((m) => m * power).find((step) => step >= rough) ?? 10 * power;
}

export interface PreviewControl {
  readonly preview: RefObject<Preview | undefined>;
  readonly state: 'loading' | 'ready' | { readonly failed: string };
  /** Draws what is held at the camera's place. */
  redraw(): void;
  /** Asks for a new look; while one is being made, one more follows. */
  ask(): void;
  take(look: Look | undefined): void;
  retry(): void;
}

/** Opens the shot in the worker and keeps the canvas true to the room's state. */
export function usePreview(canvas: RefObject<HTMLCanvasElement | null>, camera: Camera): PreviewControl {
  const store = useRoomStore();
  const preview = useRef<Preview | undefined>(undefined);
  const frames = useRef<FrameStack | undefined>(undefined);
  const seen = useRef(camera);
  const [state, setState] = useState<PreviewControl['state']>('loading');
  const [attempt, setAttempt] = useState(0);
  const busy = useRef(false), again = useRef(false), dead = useRef(false);
  seen.current = camera;

  const redraw = useCallback(() => {
    if (canvas.current) frames.current?.draw(canvas.current, seen.current, globalThis.devicePixelRatio || 1);
  }, [canvas]);

  const take = useCallback((look: Look | undefined) => {
    if (!look || !frames.current) return;
    if (look.revealedShare < 0) frames.current.patch(look.frames);
    else {
      frames.current.take(look);
      store.getState().set({ revealedShare: look.revealedShare });
    }
    redraw();
  }, [redraw, store]);

  const ask = useCallback(() => {
    const held = preview.current;
    if (!held) return;
    if (busy.current) { again.current = true; return; }
    busy.current = true;
    const began = performance.now();
    void held.remote.look(lookRequest(store.getState())).then((look) => {
      if (dead.current) return;
      take(look);
      performance.measure('look-shown', { start: began });
      busy.current = false;
      if (again.current) { again.current = false; ask(); }
    }, (error: unknown) => {
      busy.current = false;
      if (!dead.current) store.getState().notify('error', `The preview could not be drawn: ${(error as Error).message}`);
    });
  }, [store, take]);

  useEffect(() => {
    const { shot } = store.getState();
    const held = startPreview();
    dead.current = false;
    busy.current = false;
    preview.current = held;
    frames.current = new FrameStack();
    const { source, depth } = shot.document;
    held.remote.open({ id: shot.id, width: source.width, height: source.height }, depth.revision, PREVIEW_SIDE).then(() => {
      if (dead.current) return;
      setState('ready');
      store.getState().set({ histogramOf: (bins) => held.remote.histogram(bins) });
      ask();
    }, (error: unknown) => { if (!dead.current) setState({ failed: (error as Error).message }); });
    let asked: LookRequest | undefined;
    const stop = store.subscribe((s) => {
      const next = lookRequest(s);
      if (!equal(next, asked)) { asked = next; ask(); }
    });
    let known = depth.revision, ticket = 0;
    const follow = store.subscribe((s) => {
      const { revision } = s.document.depth;
      if (revision === known && s.depthTicket === ticket) return;
      const force = s.depthTicket !== ticket;
      known = revision;
      ticket = s.depthTicket;
      if (revision === s.ownRevision && !force) void held.remote.nameDepth(revision);
      else held.remote.takeDepth(revision, force).then(() => { s.set({ hoverDepth: undefined }); ask(); }, () => { s.set({ depthTicket: s.depthTicket }); });
    });
    const rock = setInterval(() => {
      const s = store.getState();
      if (s.ways[s.stage] === 'rock' && !document.hidden) s.set({ flipped: !s.flipped });
    }, ROCK_MS);
    return () => {
      dead.current = true;
      stop();
      follow();
      clearInterval(rock);
      store.getState().set({ histogramOf: undefined });
      preview.current = undefined;
      held.end();
    };
  }, [store, ask, attempt]);

  return { preview, state, redraw, ask, take, retry: useCallback(() => { setState('loading'); setAttempt((n) => n + 1); }, []) };
}
