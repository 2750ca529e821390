'use client';

import equal from 'fast-deep-equal';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { proxy } from 'comlink';
import type { HandEdit, Look, LookRequest, RasterNames, SeenDocument } from '@/compute/ways';
import type { ShotDocument } from '@/core/shot/document';
import { useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import { FrameStack, type Camera } from './frames';
import { startPreview, type Preview } from './preview';

const PREVIEW_SIDE = 1280;
const ROCK_MS = 220;

export function lookRequest(s: RoomState): LookRequest {
  return {
    way: s.ways[s.stage],
    flipped: s.flipped,
    markReveal: s.markReveal,
    depthStrength: s.depthStrength,
    contourPx: contourStep(s.document.budget.farPx - s.document.budget.nearPx),
    document: stereoPart(s.document),
    active: s.stage === 'depth' || s.stage === 'cut' || s.stage === 'fill' ? s.active : null,
    check: s.stage === 'cut' && s.opened.cut === 'check' ? s.check : undefined,
    spare: s.spare,
    behind: s.stage === 'fill' ? lookBehind(s) : undefined,
    hands: s.stage === 'fill' ? handsOf(s) : NO_HANDS,
    behindDepth: paintsBehind(s),
    choice: s.stage === 'cut' && s.choice.ingredients.length > 0 ? s.choice : undefined,
  };
}

const NO_HANDS: readonly HandEdit[] = [];

/** What hands have drawn that the rasters do not hold, the stroke under the pen last. */
function handsOf({ hands, drawing, active }: RoomState): readonly HandEdit[] {
  const drawn = hands.map(({ n, plate, edit }) => ({ n, plate, edit }));
  return drawing ? [...drawn, { n: Infinity, plate: active, edit: drawing }] : drawn;
}

/** How the fill stage looks behind; while the key is held nearer plates step aside by a fifth of the width. */
function lookBehind({ behind, stepAside, document }: RoomState): RoomState['behind'] {
  return stepAside ? { ...behind, asidePx: Math.round(document.source.width / 5) } : behind;
}

/** True while strokes go to the depth behind the plates. */
export function paintsBehind(s: Pick<RoomState, 'stage' | 'active' | 'paintBehind' | 'document'>): boolean {
  return s.stage === 'depth' && s.active === null && s.paintBehind && s.document.depth.behind !== null;
}

/** The parts of a document that a view depends on, and no more: it travels with every look. */
export function stereoPart({
  budget,
  sourceEye,
  swapEyes,
  tearPx,
  tearSoftPx,
  holePx,
  depth,
  source,
  plates,
}: ShotDocument): SeenDocument {
  return {
    budget,
    sourceEye,
    swapEyes,
    tearPx,
    tearSoftPx,
    holePx,
    depth: { near: depth.near, far: depth.far },
    source: { width: source.width },
    plates: plates.map(({ id, matte, hidden, piece, tearPx: tear, tearSoftPx: soft, depth: own }) => ({
      id,
      matte,
      hidden,
      piece,
      tearPx: tear,
      tearSoftPx: soft,
      depth: { near: own.near, far: own.far },
    })),
  };
}

/** Which rasters a document is made of. */
export function rasterNames({ depth, fill, overpaint, plates }: ShotDocument): RasterNames {
  return {
    depth: depth.revision,
    behind: depth.behind,
    fill,
    overpaint,
    plates: plates.flatMap((p) =>
      p.matte !== null && p.depth.revision !== null
        ? [
            {
              id: p.id,
              fill: p.fill,
              overpaint: p.overpaint,
              matte: p.matte,
              depth: p.depth.revision,
              piece: p.piece && { mediaId: p.piece.mediaId, width: p.piece.width, height: p.piece.height },
            },
          ]
        : [],
    ),
  };
}

/** True where the only difference is one depth that has become `own`: the page has painted it itself. */
function onlyOwn(next: RasterNames, known: RasterNames, own: string): boolean {
  if (
    next.plates.length !== known.plates.length ||
    next.fill !== known.fill ||
    next.overpaint !== known.overpaint ||
    next.plates.some((p, n) => p.fill !== known.plates[n].fill || p.overpaint !== known.plates[n].overpaint)
  )
    return false;
  const changed = [
    next.depth !== known.depth ? next.depth : '',
    next.behind !== known.behind ? (next.behind ?? 'closed') : '',
    ...next.plates.map((p, n) =>
      p.id !== known.plates[n].id || p.matte !== known.plates[n].matte
        ? 'other'
        : p.depth !== known.plates[n].depth
          ? p.depth
          : '',
    ),
  ].filter(Boolean);
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
  const busy = useRef(false);
  const again = useRef(false);
  const dead = useRef(false);
  seen.current = camera;

  const redraw = useCallback(() => {
    if (canvas.current) frames.current?.draw(canvas.current, seen.current, globalThis.devicePixelRatio || 1);
  }, [canvas]);

  const take = useCallback(
    (look: Look | undefined) => {
      if (!look || !frames.current) return;
      if (look.revealedShare < 0) frames.current.patch(look.frames);
      else {
        frames.current.take(look);
        store.getState().set({ revealedShare: look.revealedShare });
      }
      redraw();
    },
    [redraw, store],
  );

  const ask = useCallback(() => {
    const held = preview.current;
    if (!held) return;
    if (busy.current) {
      again.current = true;
      return;
    }
    busy.current = true;
    const began = performance.now();
    void held.remote.look(lookRequest(store.getState())).then(
      (look) => {
        if (dead.current) return;
        take(look);
        performance.measure('look-shown', { start: began });
        busy.current = false;
        if (again.current) {
          again.current = false;
          ask();
        }
      },
      (error: unknown) => {
        busy.current = false;
        if (!dead.current)
          store.getState().notify('error', `The preview could not be drawn: ${(error as Error).message}`);
      },
    );
  }, [store, take]);

  useEffect(() => {
    const { shot } = store.getState();
    const held = startPreview();
    dead.current = false;
    busy.current = false;
    preview.current = held;
    frames.current = new FrameStack();
    const { source } = shot.document;
    held.remote
      .open({ id: shot.id, width: source.width, height: source.height }, rasterNames(shot.document), PREVIEW_SIDE)
      .then(
        () => {
          if (dead.current) return;
          setState('ready');
          store.getState().set({
            histogramOf: (bins) => held.remote.histogram(bins, stereoPart(store.getState().document)),
            inspectCut: (px) => {
              const { choice, active, spare } = store.getState();
              return held.remote.inspect(choice.ingredients.length > 0 ? choice : undefined, spare, active, px);
            },
          });
          store.getState().set({
            revealCounts: () =>
              held.remote.revealCounts(stereoPart(store.getState().document), store.getState().behind),
            worstStretch: () =>
              held.remote.worstStretch(stereoPart(store.getState().document), store.getState().active),
          });
          void held.remote.onCounted(
            proxy(() => {
              if (!dead.current && store.getState().stage === 'fill') ask();
            }),
          );
          void held.remote.onSolving(
            proxy((share: number) => {
              if (dead.current) return;
              store.getState().set({ solving: share < 1 ? share : undefined });
              if (share === 1) ask();
            }),
          );
          ask();
        },
        (error: unknown) => {
          if (!dead.current) setState({ failed: (error as Error).message });
        },
      );
    let asked: LookRequest | undefined;
    const stop = store.subscribe((s) => {
      const next = lookRequest(s);
      if (!equal(next, asked)) {
        asked = next;
        ask();
      }
    });
    // On another canvas everything is opened anew.
    const reopen = store.subscribe((s) => {
      if (s.shot.document.source.mediaId !== source.mediaId) {
        setState('loading');
        setAttempt((n) => n + 1);
      }
    });
    let known = rasterNames(shot.document);
    let ticket = 0;
    let seenDocument = shot.document;
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
      else {
        const settled = s.hands.reduce((n, h) => (h.stored ? h.n : n), 0);
        held.remote.takeRasters(next, force, settled).then(
          () => {
            store.setState((now) => ({ hoverDepth: undefined, hands: now.hands.filter((h) => h.n > settled) }));
            ask();
          },
          () => {
            s.set({ depthTicket: s.depthTicket });
          },
        );
      }
    });
    const rock = setInterval(() => {
      const s = store.getState();
      if (s.ways[s.stage] === 'rock' && !document.hidden) s.set({ flipped: !s.flipped });
    }, ROCK_MS);
    return () => {
      dead.current = true;
      stop();
      follow();
      reopen();
      clearInterval(rock);
      store
        .getState()
        .set({ histogramOf: undefined, inspectCut: undefined, revealCounts: undefined, worstStretch: undefined });
      preview.current = undefined;
      held.end();
    };
  }, [store, ask, attempt]);

  return {
    preview,
    state,
    redraw,
    ask,
    take,
    retry: useCallback(() => {
      setState('loading');
      setAttempt((n) => n + 1);
    }, []),
  };
}
