import type { LayerPlace } from './layer/place';
import type { DepthEdit } from '@/core/depth/edits';
import type { Rect, Point } from '@/core/raster/geometry';
import { expose, proxy, transfer, wrap, type Remote } from 'comlink';
import type { BrushSettings, StrokePoint } from '@/core/depth/brush';
import type { Choice } from '@/core/matte/choice';
import { EdgeTrace } from '@/core/matte/edgeTrace';
import { proposePieces, type Pieces } from '@/core/matte/pieces';
import { findRim } from '@/core/matte/rim';
import { simplifyRing, traceRings } from '@/core/matte/rings';
import { countSpecks } from '@/core/matte/specks';
import { cleanColours } from '@/core/shot/plates';
import type { EyeApi } from './eye.worker';
import { openRasters, type Shot } from './fetchRasters';
import { isFlat, Layer, type Target } from './layer/layer';
import type { Behind, Found, Look, LookRequest, RasterNames, RevealCount, SeenDocument } from './ways';

// The page's own renderer: holds the shot at preview size, and a window of it in detail when the artist looks closer, and
// draws every way to see with the same core functions as the final render.

let shot: Shot | undefined;
let names: RasterNames = { depth: '', behind: null, fill: null, overpaint: null, plates: [] };
let whole: Layer | undefined;
let detail: Layer | undefined;
let second: Remote<EyeApi> | undefined;
/** Looks are drawn one after another: they share their buffers. */
let turn: Promise<unknown> = Promise.resolve();
/** Edits of the hand up to this one are in the rasters. */
let settledHand = 0;
let painting = false;
let tellCounted: (() => void) | undefined;
let tellSolving: ((share: number) => void) | undefined;
/** Which matte is wanted; seen by the worker that solves it. */
const wanted = new Int32Array(new SharedArrayBuffer(4));
let resting: ReturnType<typeof setTimeout> | undefined;
let tracer: Tracer | undefined;
let proposed: { readonly layer: Layer; readonly grain: Grain; readonly pieces: Pieces } | undefined;

/** How large the proposed pieces are. */
export type Grain = 'fine' | 'middle' | 'coarse';
const GRAINS: Record<Grain, { readonly scale: number; readonly smallest: number }> = {
  fine: { scale: 80, smallest: 30 },
  middle: { scale: 300, smallest: 120 },
  coarse: { scale: 1200, smallest: 500 },
};
/** So long a choice must rest before its band is solved, ms. */
const REST_MS = 350;

const api = {
  /** Takes the way to the worker that renders the other eye. */
  meet(port: MessagePort): void {
    second = wrap<EyeApi>(port);
  },

  /** Loads a shot at preview size: longest side at most `side` px. */
  async open(next: Shot, rasters: RasterNames, side: number): Promise<void> {
    shot = next;
    names = rasters;
    replaceDetail(undefined);
    whole = await openLayer(
      placeOf(
        { left: 0, top: 0, right: next.width, bottom: next.height },
        Math.min(1, side / Math.max(next.width, next.height)),
      ),
      rasters,
    );
  },

  /**
   * Takes other revisions, unless they are those that are held and `force` is not asked for.
   * @param settled edits of the hand up to this one are in them
   */
  async takeRasters(next: RasterNames, force: boolean, settled: number): Promise<boolean> {
    if (!whole || (!force && JSON.stringify(next) === JSON.stringify(names))) return false;
    const held = force ? undefined : names;
    const [w, d] = await Promise.all([
      openLayer(whole.place, next, held, whole),
      detail ? openLayer(detail.place, next, held, detail) : undefined,
    ]);
    whole.end();
    whole = w;
    replaceDetail(d);
    names = next;
    settledHand = settled;
    return true;
  },

  /** Says which revisions the server made of what was just painted here. */
  nameRasters(next: RasterNames): void {
    names = next;
  },

  /** Loads a window at the source's own size, with room around it for parallax; undefined ends the detail. */
  async lookCloser(shown: Rect | undefined, margin: number): Promise<void> {
    if (!shot || !shown) {
      replaceDetail(undefined);
      return;
    }
    const wide: Rect = {
      left: Math.max(0, shown.left - margin),
      top: shown.top,
      right: Math.min(shot.width, shown.right + margin),
      bottom: shown.bottom,
    };
    const scale = Math.min(1, 2600 / (wide.right - wide.left), 2600 / (wide.bottom - wide.top));
    const at = names;
    const loaded = await openLayer({ ...placeOf(wide, scale), shown }, at);
    if (names === at && !painting) replaceDetail(loaded);
    else loaded.end();
  },

  beginStroke(settings: BrushSettings, target: Target): void {
    painting = true;
    whole?.beginStroke(settings, target);
    detail?.beginStroke(settings, target);
  },

  /** Paints on. Returns what to draw anew: nothing but the touched part for flat ways. */
  async addPoints(points: StrokePoint[], request: LookRequest): Promise<Look | undefined> {
    if (!whole || !painting) return undefined;
    const began = performance.now();
    const parts = [whole.addPoints(points), detail?.addPoints(points)];
    if (!parts[0] && !parts[1]) return undefined;
    if (!isFlat(request.way)) return api.look(request);
    const grow = (r: Rect, l: Layer): Rect => ({
      left: Math.max(0, r.left - 1),
      top: Math.max(0, r.top - 1),
      right: Math.min(l.picture.width, r.right + 1),
      bottom: Math.min(l.picture.height, r.bottom + 1),
    });
    const frames = [whole, detail].flatMap((layer, n) => {
      const part = parts[n];
      return layer && part ? [layer.lookFlat(request, grow(part, layer))] : [];
    });
    return transfer(
      { frames, revealedShare: -1, milliseconds: performance.now() - began },
      frames.map((f) => f.data.buffer),
    );
  },

  endStroke(): void {
    painting = false;
    whole?.endStroke();
    detail?.endStroke();
  },

  applyEdit(edit: DepthEdit, target: Target): void {
    whole?.apply(edit, target);
    detail?.apply(edit, target);
  },

  /** Draws one way to see: the whole picture, and the window in detail over it. */
  look(request: LookRequest): Promise<Look | undefined> {
    const drawn = turn.then(() => draw(request));
    turn = drawn.catch(() => undefined);
    return drawn;
  },

  /** What is wrong with the choice, or else with a plate: specks of fewer than `px` full-size pixels, and rim pixels. Undefined where there is neither. */
  inspect(choice: Choice | undefined, spare: boolean, active: string | null, px: number): Found | undefined {
    const plate = whole?.plates.find((p) => p.id === active);
    const matte = choice ? whole?.choose(choice, spare, active) : plate?.matte;
    if (!matte || !whole) return undefined;
    const own = (!choice && plate?.piece?.picture) || cleanColours(whole.picture, matte);
    const { count, edge } = findRim(own, whole.picture, matte);
    const full = 1 / whole.place.scale ** 2;
    return { specks: countSpecks(matte, px / full), rim: Math.round(count * full), edge: Math.round(edge * full) };
  },

  /** What the views uncover of every plate, nearest first, full-size px; undefined where something newer was asked for. Looks are drawn meanwhile. */
  async revealCounts(document: SeenDocument, behind: Behind): Promise<RevealCount[] | undefined> {
    const layer = whole;
    if (!layer) return undefined;
    const prepared = turn.then(() => layer.prepare(document));
    turn = prepared.catch(() => undefined);
    await prepared;
    return layer.revealCounts(document, behind);
  },

  /** Where a plate's pixels are stretched most, full-size px. */
  async worstStretch(
    document: SeenDocument,
    active: string | null,
  ): Promise<{ x: number; y: number; factor: number } | undefined> {
    const found = turn.then(() => whole?.worstStretch(document, active));
    turn = found.catch(() => undefined);
    return found;
  },

  /** Is told the share of a matte that is solved, 1 at its end, then the look is asked for anew. */
  onSolving(told: (share: number) => void): void {
    tellSolving = told;
  },

  /** Is told when more is known of what views uncover: then the look is asked for anew. */
  onCounted(told: () => void): void {
    tellCounted = told;
  },

  /** Starts an edge trace at a full-size place, on the strongest edge within `reach` px; returns where. */
  beginTrace(x: number, y: number, reach: number): Point {
    const { place } = (tracer = openTracer(x, y));
    return fromLayer(
      place,
      tracer.begin({ x: (x - place.left) * place.scale, y: (y - place.top) * place.scale }, reach * place.scale),
    );
  },

  /** The way along the picture's edges to another place, full-size px. */
  traceTo(x: number, y: number, reach: number): Point[] {
    if (!tracer) return [];
    const { place } = tracer;
    return tracer
      .to({ x: (x - place.left) * place.scale, y: (y - place.top) * place.scale }, reach * place.scale)
      .map((p) => fromLayer(place, p));
  },

  /** The proposed pieces under a path of full-size places, beside those that are gathered already, and the border of all together. */
  piecesAlong(
    path: readonly Point[],
    gathered: readonly number[],
    grain: Grain,
  ): { readonly pieces: number[]; readonly rings: Point[][] } {
    if (!whole) return { pieces: [], rings: [] };
    const proposed = proposals(whole, grain);
    const { place } = whole;
    const found = new Set(gathered);
    for (const { x, y } of path)
      if (inside(place, x, y))
        found.add(
          proposed.of[
            Math.min(proposed.height - 1, Math.floor(y * place.scale)) * proposed.width +
              Math.min(proposed.width - 1, Math.floor(x * place.scale))
          ],
        );
    const mask = {
      width: proposed.width,
      height: proposed.height,
      data: Uint8Array.from(proposed.of, (p) => (found.has(p) ? 255 : 0)),
    };
    const rings =
      found.size === 0
        ? []
        : traceRings(mask)
            .map((ring) => simplifyRing(ring, 0.7))
            .filter((ring) => ring.length > 2);
    return { pieces: [...found], rings: rings.map((ring) => ring.map((p) => fromLayer(place, p))) };
  },

  /** Depth on the ruler, 0 to 1, of what is seen at a full-size place; undefined outside. */
  depthAt(x: number, y: number, document: SeenDocument): number | undefined {
    const layer = detail && inside(detail.place, x, y) ? detail : whole;
    if (!layer || !inside(layer.place, x, y)) return undefined;
    const { left, top, scale } = layer.place;
    const px = Math.min(layer.picture.width - 1, Math.floor((x - left) * scale));
    const py = Math.min(layer.picture.height - 1, Math.floor((y - top) * scale));
    return layer.absoluteMap(document).data[py * layer.picture.width + px] / 65535;
  },

  /** How many pixels of the whole picture lie at each depth of the ruler, far to near. */
  histogram(bins: number, document: SeenDocument): number[] {
    const counts = new Array<number>(bins).fill(0);
    if (whole)
      for (const d of whole.absoluteMap(document).data) counts[Math.min(bins - 1, Math.floor((d * bins) / 65536))]++;
    return counts;
  },
};

export type PreviewApi = typeof api;

async function draw(asked: LookRequest): Promise<Look | undefined> {
  if (!whole) return undefined;
  const began = performance.now();
  const request = { ...asked, hands: asked.hands.filter(({ n }) => n > settledHand) };
  let base = await whole.look(request);
  let closer: typeof base | undefined;
  if (detail && request.way !== 'both') {
    if (request.choice)
      detail.choosing.borrow(
        request.choice,
        whole.others(request.spare, request.active),
        whole.choosing.matte,
        whole.place,
        whole.choosing.pending ? 'quick' : 'solved',
      );
    const asked = { ...request, borrowed: request.choice !== undefined };
    closer = await detail.look(asked);
    // Parts of both are laid into what is shown, or both are drawn whole.
    if (closer.part !== base.part) {
      if (closer.part) closer = await detail.look(asked, true);
      else base = await whole.look(request, true);
    }
  }
  const frames = [base.frame, closer?.frame].filter((f) => f !== undefined);
  solveSoon(request.choice !== undefined);
  return transfer(
    { frames, revealedShare: base.part ? -1 : base.revealed, milliseconds: performance.now() - began },
    frames.map((f) => f.data.buffer),
  );
}

/** Once the choice rests, its band is solved in the second worker; whatever was being solved is dropped. */
function solveSoon(choosing: boolean): void {
  const pending = choosing ? whole?.choosing.pending : undefined;
  if (pending && solving === pending.key) return;
  clearTimeout(resting);
  if (solving !== undefined) {
    solving = undefined;
    tellSolving?.(1);
  }
  const work = Atomics.add(wanted, 0, 1) + 1;
  const layer = whole;
  if (!pending || !second || !layer) return;
  solving = pending.key;
  resting = setTimeout(() => {
    void second!
      .solve(
        layer.picture,
        pending.trimap,
        work,
        wanted,
        proxy((share: number) => {
          if (Atomics.load(wanted, 0) === work) tellSolving?.(Math.min(0.99, share));
        }),
      )
      .then((matte) => {
        if (!matte || solving !== pending.key) return;
        solving = undefined;
        layer.choosing.solved(pending.key, matte);
        tellSolving?.(1);
      });
  }, REST_MS);
}
let solving: string | undefined;

/** The live wire on a layer. */
interface Tracer {
  readonly place: LayerPlace;
  begin(at: Point, reach: number): Point;
  to(at: Point, reach: number): Point[];
}

function openTracer(x: number, y: number): Tracer {
  const layer = detail && inside(detail.place, x, y) ? detail : whole!;
  let trace = tracers.get(layer);
  if (!trace) tracers.set(layer, (trace = new EdgeTrace(layer.picture)));
  const held = trace;
  const { width, height } = layer.picture;
  const within = (p: Point): Point => ({
    x: Math.min(width - 0.5, Math.max(0, p.x)),
    y: Math.min(height - 0.5, Math.max(0, p.y)),
  });
  return {
    place: layer.place,
    begin: (at, reach) => {
      const from = held.snap(within(at), reach);
      held.begin(from);
      return from;
    },
    to: (at, reach) => held.pathTo(held.snap(within(at), reach)),
  };
}
const tracers = new WeakMap<Layer, EdgeTrace>();

const fromLayer = (place: LayerPlace, p: Point): Point => ({
  x: Math.round((p.x / place.scale + place.left) * 10) / 10,
  y: Math.round((p.y / place.scale + place.top) * 10) / 10,
});

function proposals(layer: Layer, grain: Grain): Pieces {
  if (proposed?.layer.picture !== layer.picture || proposed.grain !== grain)
    proposed = { layer, grain, pieces: proposePieces(layer.picture, GRAINS[grain]) };
  return proposed.pieces;
}

function replaceDetail(next: Layer | undefined): void {
  if (detail !== next) whole?.drawWhole();
  detail?.end();
  detail = next;
}

async function openLayer(place: LayerPlace, next: RasterNames, held?: RasterNames, from?: Layer): Promise<Layer> {
  const { picture, depth, plates, painted, behind } = await openRasters(
    shot!,
    place,
    next,
    held && from && { names: held, layer: from },
  );
  const layer = new Layer(place, picture, depth, plates, second, painted, behind, () => {
    tellCounted?.();
  });
  if (held && from && JSON.stringify(bareNames(held)) === JSON.stringify(bareNames(next))) layer.inherit(from);
  return layer;
}

/** What decides how plates are laid out: everything but what was put on them. */
const bareNames = ({ depth, behind, plates }: RasterNames): object => ({
  depth,
  behind,
  plates: plates.map((p) => [p.id, p.matte, p.depth, p.piece]),
});

const inside = (r: Rect, x: number, y: number): boolean => x >= r.left && y >= r.top && x < r.right && y < r.bottom;
const placeOf = (rect: Rect, scale: number): LayerPlace => ({ ...rect, shown: rect, scale });

expose(api);
