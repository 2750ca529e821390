'use client';

import equal from 'fast-deep-equal';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { Look, LookRequest, RasterNames } from '@/compute/ways';
import type { ShotDocument } from '@/core/shot/document';
import type { StereoPart } from '@/core/shot/renderView';
import { useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import { FrameStack, type Camera } from './frames';
import { startPreview, type Preview } from './preview';

const PREVIEW_SIDE = 1280;
const ROCK_MS = 220;

export function lookRequest(s: RoomState): LookRequest {
  return {
    way: s.ways[s.stage], flipped: s.flipped, markReveal: s.markReveal, depthStrength: s.depthStrength, contourPx: contourStep(s.document.budget.farPx - s.document.budget.nearPx),
    document: stereoPart(s.document), active: s.stage === 'depth' || s.stage === 'cut' ? s.active : null, ground: s.stage === 'cut' && s.opened.cut === 'check' ? s.ground : undefined, choice: s.stage === 'cut' && s.choice.ingredients.length > 0 ? s.choice : undefined,
  };
}

/** The parts of a document that a view depends on, and no more: it travels with every look. */
export function stereoPart({ budget, sourceEye, swapEyes, tearPx, depth, source, plates }: ShotDocument): StereoPart {
  return {
    budget, sourceEye, swapEyes, tearPx, depth: { near: depth.near, far: depth.far }, source: { width: source.width },
    plates: plates.map(({ id, matte, hidden, depth: own }) => ({ id, matte, hidden, depth: { near: own.near, far: own.far } })),
  };
}

/** Which rasters a document is made of. */
export function rasterNames({ depth, plates }: ShotDocument): RasterNames {
  return { depth: depth.revision, plates: plates.flatMap((p) => (p.matte !== null && p.depth.revision !== null ? [{ id: p.id, matte: p.matte, depth: p.depth.revision }] : [])) };
}

/** True where the only difference is one depth that has become `own`: the page has painted it itself. */
function onlyOwn(next: RasterNames, known: RasterNames, own: string): boolean {
  if (next.plates.length !== known.plates.length) return false;
  const changed = [next.depth !== known.depth ? next.depth : '', ...next.plates.map((p, n) => (p.id !== known.plates[n].id || p.matte !== known.plates[n].matte ? 'other' : p.depth !== known.plates[n].depth ? p.depth : ''))].filter(Boolean);
  return changed.length === 1 && changed[0] === own;
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
    const { source } = shot.document;
    held.remote.open({ id: shot.id, width: source.width, height: source.height }, rasterNames(shot.document), PREVIEW_SIDE).then(() => {
      if (dead.current) return;
      setState('ready');
      store.getState().set({
        histogramOf: (bins) => held.remote.histogram(bins, stereoPart(store.getState().document)),
        specksOf: (px) => { const { choice, active } = store.getState(); return held.remote.countSpecks(choice.ingredients.length > 0 ? choice : undefined, active, px); },
      });
      ask();
    }, (error: unknown) => { if (!dead.current) setState({ failed: (error as Error).message }); });
    let asked: LookRequest | undefined;
    const stop = store.subscribe((s) => {
      const next = lookRequest(s);
      if (!equal(next, asked)) { asked = next; ask(); }
    });
    let known = rasterNames(shot.document), ticket = 0, seenDocument = shot.document;
    const follow = store.subscribe((s) => {
      const force = s.depthTicket !== ticket;
      if (s.document === seenDocument && !force) return;
      seenDocument = s.document;
      const next = rasterNames(s.document);
      if (equal(next, known) && !force) return;
      const own = onlyOwn(next, known, s.ownRevision);
      known = next;
      ticket = s.depthTicket;
      if (own && !force) void held.remote.nameRasters(next);
      else held.remote.takeRasters(next, force).then(() => { s.set({ hoverDepth: undefined }); ask(); }, () => { s.set({ depthTicket: s.depthTicket }); });
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
      store.getState().set({ histogramOf: undefined, specksOf: undefined });
      preview.current = undefined;
      held.end();
    };
  }, [store, ask, attempt]);

  return { preview, state, redraw, ask, take, retry: useCallback(() => { setState('loading'); setAttempt((n) => n + 1); }, []) };
}
