import { expose, transfer, wrap, type Remote } from 'comlink';
import type { BrushSettings, StrokePoint } from '@/core/depth/brush';
import type { DepthEdit } from '@/core/depth/edit';
import type { Rect } from '@/core/depth/window';
import type { Choice } from '@/core/matte/choice';
import { countSpecks } from '@/core/matte/specks';
import type { StereoPart } from '@/core/shot/renderView';
import type { EyeApi } from './eye.worker';
import { openRasters, type Shot } from './fetchRasters';
import { isFlat, Layer, type LayerPlace, type Target } from './layer';
import type { Look, LookRequest, RasterNames } from './ways';

// The page's own renderer: holds the shot at preview size, and a window of it in detail when the artist looks closer, and
// draws every way to see with the same core functions as the final render.

let shot: Shot | undefined;
let names: RasterNames = { depth: '', plates: [] };
let whole: Layer | undefined;
let detail: Layer | undefined;
let second: Remote<EyeApi> | undefined;
/** Looks are drawn one after another: they share their buffers. */
let turn: Promise<unknown> = Promise.resolve();
let painting = false;

const api = {
  /** Takes the way to the worker that renders the other eye. */
  meet(port: MessagePort): void { second = wrap<EyeApi>(port); },

  /** Loads a shot at preview size: longest side at most `side` px. */
  async open(next: Shot, rasters: RasterNames, side: number): Promise<void> {
    shot = next;
    names = rasters;
    replaceDetail(undefined);
    whole = await openLayer(placeOf({ left: 0, top: 0, right: next.width, bottom: next.height }, Math.min(1, side / Math.max(next.width, next.height))), rasters);
  },

  /** Takes other revisions, unless they are those that are held and `force` is not asked for. */
  async takeRasters(next: RasterNames, force: boolean): Promise<boolean> {
    if (!whole || (!force && JSON.stringify(next) === JSON.stringify(names))) return false;
    const held = force ? undefined : names;
    const [w, d] = await Promise.all([openLayer(whole.place, next, held, whole), detail ? openLayer(detail.place, next, held, detail) : undefined]);
    whole.end();
    whole = w;
    replaceDetail(d);
    names = next;
    return true;
  },

  /** Says which revisions the server made of what was just painted here. */
  nameRasters(next: RasterNames): void { names = next; },

  /** Loads a window at the source's own size, with room around it for parallax; undefined ends the detail. */
  async lookCloser(shown: Rect | undefined, margin: number): Promise<void> {
    if (!shot || !shown) { replaceDetail(undefined); return; }
    const wide: Rect = { left: Math.max(0, shown.left - margin), top: shown.top, right: Math.min(shot.width, shown.right + margin), bottom: shown.bottom };
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
    const grow = (r: Rect, l: Layer): Rect => ({ left: Math.max(0, r.left - 1), top: Math.max(0, r.top - 1), right: Math.min(l.picture.width, r.right + 1), bottom: Math.min(l.picture.height, r.bottom + 1) });
    const frames = [whole, detail].flatMap((layer, n) => {
      const part = parts[n];
      return layer && part ? [layer.lookFlat(request, grow(part, layer))] : [];
    });
    return transfer({ frames, revealedShare: -1, milliseconds: performance.now() - began }, frames.map((f) => f.data.buffer));
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

  /** Specks of fewer than `px` full-size pixels in the choice, or else in a plate; -1 where there is neither. */
  countSpecks(choice: Choice | undefined, plate: string | null, px: number): number {
    const matte = choice ? whole?.choose(choice) : whole?.plates.find((p) => p.id === plate)?.matte;
    return matte && whole ? countSpecks(matte, px * whole.place.scale ** 2) : -1;
  },

  /** Depth on the ruler, 0 to 1, of what is seen at a full-size place; undefined outside. */
  depthAt(x: number, y: number, document: StereoPart): number | undefined {
    const layer = detail && inside(detail.place, x, y) ? detail : whole;
    if (!layer || !inside(layer.place, x, y)) return undefined;
    const { left, top, scale } = layer.place;
    const px = Math.min(layer.picture.width - 1, Math.floor((x - left) * scale)), py = Math.min(layer.picture.height - 1, Math.floor((y - top) * scale));
    return layer.absoluteMap(document).data[py * layer.picture.width + px] / 65535;
  },

  /** How many pixels of the whole picture lie at each depth of the ruler, far to near. */
  histogram(bins: number, document: StereoPart): number[] {
    const counts = new Array<number>(bins).fill(0);
    if (whole) for (const d of whole.absoluteMap(document).data) counts[Math.min(bins - 1, Math.floor((d * bins) / 65536))]++;
    return counts;
  },
};

export type PreviewApi = typeof api;

async function draw(request: LookRequest): Promise<Look | undefined> {
  if (!whole) return undefined;
  const began = performance.now();
  const base = await whole.look(request);
  const frames = [base.frame];
  if (detail && request.way !== 'both') {
    if (request.choice) detail.borrowChoice(request.choice, whole);
    frames.push((await detail.look(request)).frame);
  }
  return transfer({ frames, revealedShare: base.revealed, milliseconds: performance.now() - began }, frames.map((f) => f.data.buffer));
}

function replaceDetail(next: Layer | undefined): void {
  detail?.end();
  detail = next;
}

async function openLayer(place: LayerPlace, next: RasterNames, held?: RasterNames, from?: Layer): Promise<Layer> {
  const { picture, depth, plates } = await openRasters(shot!, place, next, held && from && { names: held, layer: from });
  return new Layer(place, picture, depth, plates, second);
}

const inside = (r: Rect, x: number, y: number): boolean => x >= r.left && y >= r.top && x < r.right && y < r.bottom;
const placeOf = (rect: Rect, scale: number): LayerPlace => ({ ...rect, shown: rect, scale });

expose(api);
