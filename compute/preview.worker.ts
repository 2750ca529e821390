import { expose, transfer, wrap, type Remote } from 'comlink';
import type { BrushSettings, StrokePoint } from '@/core/depth/brush';
import type { DepthEdit } from '@/core/depth/edit';
import type { Rect } from '@/core/depth/window';
import type { EyeApi } from './eye.worker';
import { isFlat, Layer, type LayerPlace } from './layer';
import type { Look, LookRequest } from './ways';

// The page's own renderer: holds the shot at preview size, and a window of it in detail when the artist looks closer, and
// draws every way to see with the same core functions as the final render.

interface Shot { readonly id: string; readonly width: number; readonly height: number }

let shot: Shot | undefined;
let revision = '';
let whole: Layer | undefined;
let detail: Layer | undefined;
let second: Remote<EyeApi> | undefined;
/** Looks are drawn one after another: they share their buffers. */
let turn: Promise<unknown> = Promise.resolve();
let stroke: { settings: BrushSettings; points: StrokePoint[] } | undefined;

const api = {
  /** Takes the way to the worker that renders the other eye. */
  meet(port: MessagePort): void { second = wrap<EyeApi>(port); },

  /** Loads a shot at preview size: longest side at most `side` px. */
  async open(next: Shot, depthRevision: string, side: number): Promise<void> {
    shot = next;
    detail = undefined;
    whole = await load(placeOf({ left: 0, top: 0, right: next.width, bottom: next.height }, Math.min(1, side / Math.max(next.width, next.height))), depthRevision);
    revision = depthRevision;
  },

  /** Takes another revision of the depth, unless it is the one that is held and `force` is not asked for. */
  async takeDepth(depthRevision: string, force: boolean): Promise<boolean> {
    if (!whole || (revision === depthRevision && !force)) return false;
    const [w, d] = await Promise.all([fetchDepth(whole.place, depthRevision), detail ? fetchDepth(detail.place, depthRevision) : undefined]);
    whole = new Layer(whole.place, whole.picture, w, second);
    if (detail && d) detail = new Layer(detail.place, detail.picture, d, second);
    revision = depthRevision;
    return true;
  },

  /** Says which revision the server made of what was just painted here. */
  nameDepth(depthRevision: string): void { revision = depthRevision; },

  /** Loads a window at the source's own size, with room around it for parallax; undefined ends the detail. */
  async lookCloser(shown: Rect | undefined, margin: number): Promise<void> {
    if (!shot || !shown) { detail = undefined; return; }
    const wide: Rect = { left: Math.max(0, shown.left - margin), top: shown.top, right: Math.min(shot.width, shown.right + margin), bottom: shown.bottom };
    const scale = Math.min(1, 2600 / (wide.right - wide.left), 2600 / (wide.bottom - wide.top));
    const at = revision;
    const loaded = await load({ ...placeOf(wide, scale), shown }, at);
    if (revision === at && !stroke) detail = loaded;
  },

  beginStroke(settings: BrushSettings): void {
    stroke = { settings, points: [] };
    whole?.beginStroke(settings);
    detail?.beginStroke(settings);
  },

  /** Paints on. Returns what to draw anew: nothing but the touched part for flat ways. */
  async addPoints(points: StrokePoint[], request: LookRequest): Promise<Look | undefined> {
    if (!whole || !stroke) return undefined;
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
    stroke = undefined;
    whole?.endStroke();
    detail?.endStroke();
  },

  applyEdit(edit: DepthEdit): void {
    whole?.apply(edit);
    detail?.apply(edit);
  },

  /** Draws one way to see: the whole picture, and the window in detail over it. */
  look(request: LookRequest): Promise<Look | undefined> {
    const drawn = turn.then(() => draw(request));
    turn = drawn.catch(() => undefined);
    return drawn;
  },

  /** Map value 0 to 1 under a full-size place; undefined outside. */
  depthAt(x: number, y: number): number | undefined {
    const layer = detail && inside(detail.place, x, y) ? detail : whole;
    if (!layer || !inside(layer.place, x, y)) return undefined;
    const { left, top, scale } = layer.place;
    const px = Math.min(layer.picture.width - 1, Math.floor((x - left) * scale)), py = Math.min(layer.picture.height - 1, Math.floor((y - top) * scale));
    return layer.depth.data[py * layer.picture.width + px] / 65535;
  },

  /** How many pixels of the whole picture lie at each depth, far to near. */
  histogram(bins: number): number[] {
    const counts = new Array<number>(bins).fill(0);
    for (const d of whole?.depth.data ?? []) counts[Math.min(bins - 1, Math.floor((d * bins) / 65536))]++;
    return counts;
  },
};

export type PreviewApi = typeof api;

async function draw(request: LookRequest): Promise<Look | undefined> {
  if (!whole) return undefined;
  const began = performance.now();
  const base = await whole.look(request);
  const frames = [base.frame];
  if (detail && request.way !== 'both') frames.push((await detail.look(request)).frame);
  return transfer({ frames, revealedShare: base.revealed, milliseconds: performance.now() - began }, frames.map((f) => f.data.buffer));
}

const inside = (r: Rect, x: number, y: number): boolean => x >= r.left && y >= r.top && x < r.right && y < r.bottom;
const placeOf = (rect: Rect, scale: number): LayerPlace => ({ ...rect, shown: rect, scale });

function sizeOf(place: LayerPlace): { width: number; height: number } {
  return { width: Math.max(1, Math.round((place.right - place.left) * place.scale)), height: Math.max(1, Math.round((place.bottom - place.top) * place.scale)) };
}

async function load(place: LayerPlace, depthRevision: string): Promise<Layer> {
  const [picture, depth] = await Promise.all([fetchPicture(place), fetchDepth(place, depthRevision)]);
  return new Layer(place, picture, depth, second);
}

function query(place: LayerPlace): string {
  const { width, height } = sizeOf(place);
  return new URLSearchParams(Object.entries({ left: place.left, top: place.top, right: place.right, bottom: place.bottom, width, height }).map(([k, v]) => [k, String(v)])).toString();
}

async function get(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (!answer.ok) throw new Error(((await answer.json().catch(() => undefined)) as { title?: string } | undefined)?.title ?? `The server answered ${answer.status}.`);
  return answer;
}

async function fetchPicture(place: LayerPlace): Promise<{ width: number; height: number; data: Uint8ClampedArray }> {
  const blob = await (await get(`/api/shots/${shot!.id}/picture?${query(place)}`)).blob();
  const bitmap = await createImageBitmap(blob, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { width, height, data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  return { width, height, data };
}

async function fetchDepth(place: LayerPlace, depthRevision: string): Promise<Uint16Array> {
  const packed = (await get(`/api/shots/${shot!.id}/depth?revision=${depthRevision}&${query(place)}`)).body!;
  return new Uint16Array(await new Response(packed.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer());
}

expose(api);
