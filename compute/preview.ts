import { transfer, type Remote } from 'comlink';
import type { BrushSettings, StrokePoint } from '@/core/depth/brush';
import type { DepthEdit } from '@/core/depth/edits';
import { clipRect, growRect, type Rect } from '@/core/raster/geometry';
import { Actor } from './actor';
import type { EyeApi } from './eye.worker';
import { lensOf, type Drawn, type LookRequest } from './lenses';
import { placeOf, wholePlace } from './layer/addresses';
import { DepthTrial, type Trial } from './depthTrial';
import { fetchRaster, openLayer, type Shot } from './layer/fetchRasters';
import type { Layer } from './layer/layer';
import type { LayerPlace } from './layer/place';
import type { Target } from './layer/strokes';
import type { Look, RasterNames } from './look';

/** An edit that this page has made of its own copy of a depth; numbered in their order. */
export interface LocalEdit {
  readonly n: number;
  readonly target: Target;
  readonly edit: DepthEdit;
}

/** What of this page's own changes the server's rasters hold. */
export interface Held {
  /** Edits of the hand up to this one are in them. */
  readonly settledHand: number;
  /** Depth edits that the server has not stored yet. */
  readonly unstored: readonly number[];
}

/** Room around a window in detail, from which its views take picture, full-size px. */
export interface Margin {
  readonly across: number;
  readonly down: number;
}

interface OpenStroke {
  readonly settings: BrushSettings;
  readonly target: Target;
  readonly points: StrokePoint[];
}

/** Room around a window in detail is cut on this grid, so that reduced copies can be read, px. */
const GRID = 8;
/** Longest side of a window in detail, px. */
const DETAIL_SIDE = 2600;

/**
 * What the page holds of a shot: the whole picture at preview size, and a window of it in detail when the artist looks
 * closer. Does one
 * thing at a time; what is fetched from the server comes in between.
 */
export class Preview {
  whole: Layer | undefined;
  detail: Layer | undefined;
  readonly actor = new Actor();
  private shot: Shot | undefined;
  private names: RasterNames | undefined;
  private settledHand = 0;
  /** Depth edits of this page, until the server is known to have them. */
  private edits: LocalEdit[] = [];
  private stroke: OpenStroke | undefined;
  private readonly trial = new DepthTrial((revision, { place }) => fetchRaster({ shot: this.shot!, place }, revision));
  /** Counts the windows in detail that were asked for. */
  private windows = 0;
  /** Counts the rasters that were asked for. */
  private fetches = 0;

  constructor(
    private readonly second: () => Remote<EyeApi> | undefined,
    private readonly onCounted: () => void,
  ) {}

  /** Loads a shot at preview size: longest side at most `side` px. */
  async open(shot: Shot, names: RasterNames, side: number): Promise<void> {
    const layer = await this.load(shot, wholePlace(shot, side), names);
    await this.actor.run(() => {
      this.shot = shot;
      this.names = names;
      this.replaceDetail(undefined);
      this.whole?.end();
      this.whole = layer;
    });
  }

  private load(shot: Shot, place: LayerPlace, names: RasterNames, like?: Layer): Promise<Layer> {
    const second = this.second();
    return openLayer(
      { shot, place, names, ...(like && this.names ? { held: { names: this.names, layer: like } } : {}) },
      { ...(second ? { second } : {}), onCounted: this.onCounted },
    );
  }

  /**
   * Takes other revisions, unless they are those that are held or newer ones were asked for meanwhile. What this page
   * has painted and the
   * server has not stored is painted on them again.
   * @param force fetches all anew: the page's own copy may be wrong
   */
  async takeRasters(next: RasterNames, held: Held, force: boolean): Promise<boolean> {
    const { shot, whole, detail } = this;
    if (!shot || !whole || (!force && JSON.stringify(next) === JSON.stringify(this.names))) return false;
    const mine = ++this.fetches;
    const [w, d] = await Promise.all([
      this.load(shot, whole.place, next, force ? undefined : whole),
      detail ? this.load(shot, detail.place, next, force ? undefined : detail) : undefined,
    ]);
    return this.actor.run(() => {
      if (mine !== this.fetches) {
        w.end();
        d?.end();
        return false;
      }
      this.edits = this.edits.filter(({ n }) => held.unstored.includes(n));
      // What is tried stays where its map is still the same; one that has come in its place ends it.
      const tried = this.trial.end();
      const goesOn = tried && depthName(next, tried.target) === depthName(this.names, tried.target);
      for (const layer of [w, d]) if (layer) this.paintAgain(layer);
      if (goesOn) this.trial.again(w, d, tried);
      this.whole?.end();
      this.whole = w;
      // A window that was opened meanwhile holds older rasters: it is asked for anew.
      const same = this.detail?.place === detail?.place;
      this.replaceDetail(same ? d : undefined);
      if (!same) d?.end();
      this.names = next;
      this.settledHand = held.settledHand;
      return true;
    });
  }

  /** What this page has painted, on a layer that does not hold it yet. */
  private paintAgain(layer: Layer): void {
    for (const { edit, target } of this.edits) layer.apply(edit, target);
    if (!this.stroke) return;
    layer.beginStroke(this.stroke.settings, this.stroke.target);
    layer.addPoints(this.stroke.points);
  }

  /** Says which revisions the server made of what was just painted here. */
  nameRasters(next: RasterNames, unstored: readonly number[]): Promise<void> {
    return this.actor.run(() => {
      this.names = next;
      this.edits = this.edits.filter(({ n }) => unstored.includes(n));
    });
  }

  /** Loads a window at the source's own size, with room around it for parallax; undefined ends the detail. */
  async lookCloser(shown: Rect | undefined, margin: Margin): Promise<void> {
    const mine = ++this.windows;
    const { shot } = this;
    if (!shot || !shown) {
      await this.actor.run(() => {
        this.replaceDetail(undefined);
      });
      return;
    }
    const down = (v: number): number => Math.max(0, Math.floor(v / GRID) * GRID);
    const up = (v: number, most: number): number => Math.min(most, Math.ceil(v / GRID) * GRID);
    const wide: Rect = {
      left: down(shown.left - margin.across),
      top: down(shown.top - margin.down),
      right: up(shown.right + margin.across, shot.width),
      bottom: up(shown.bottom + margin.down, shot.height),
    };
    const scale = Math.min(1, DETAIL_SIDE / (wide.right - wide.left), DETAIL_SIDE / (wide.bottom - wide.top));
    const names = this.names!;
    const layer = await this.load(shot, { ...placeOf(wide, scale), shown }, names);
    await this.trial.readyCloser(layer);
    const taken = await this.actor.run(() => {
      if (mine !== this.windows || this.names !== names) {
        layer.end();
        return false;
      }
      this.paintAgain(layer);
      if (this.whole) this.trial.follow(this.whole, layer);
      this.replaceDetail(layer);
      return true;
    });
    // The rasters have moved on while it was fetched: it is fetched anew.
    if (!taken && mine === this.windows) await this.lookCloser(shown, margin);
  }

  private replaceDetail(next: Layer | undefined): void {
    if (this.detail !== next && this.whole) this.whole.lastDrawn = undefined;
    if (this.detail && this.detail !== next) this.trial.drop(this.detail);
    this.detail?.end();
    this.detail = next;
  }

  beginStroke(settings: BrushSettings, target: Target): Promise<void> {
    return this.actor.run(() => {
      this.stroke = { settings, target, points: [] };
      for (const layer of this.layers) layer.beginStroke(settings, target);
    });
  }

  /** Paints on. Returns what to draw anew: nothing but the touched part for lenses that can draw it. */
  addPoints(points: readonly StrokePoint[], request: LookRequest): Promise<Look | undefined> {
    return this.actor.run(async () => {
      if (!this.stroke) return undefined;
      const began = performance.now();
      this.stroke.points.push(...points);
      const touched = this.layers.map((layer) => ({ layer, rect: layer.addPoints(points) }));
      if (!touched.some(({ rect }) => rect)) return undefined;
      const lens = lensOf(request.ask);
      if (!lens.touches) return this.draw(request);
      const drawn: Drawn[] = [];
      for (const { layer, rect } of touched) {
        const around = rect && clipRect(growRect(rect, 1), layer.picture.width, layer.picture.height);
        if (around) drawn.push(await lens.draw(layer, request, around));
      }
      return lookOf(drawn, true, began);
    });
  }

  /** The stroke has ended and is on its way to the server as these edits. */
  endStroke(edits: readonly LocalEdit[]): Promise<void> {
    return this.actor.run(() => {
      this.stroke = undefined;
      this.edits.push(...edits);
      for (const layer of this.layers) layer.endStroke();
    });
  }

  /**
   * Tries a whole depth map on what is shown; undefined: no more. A newer one replaces one that waits. @returns how
   * long it took, ms
   */
  async tryDepth(trial: Trial | undefined): Promise<number | undefined> {
    if (trial && this.whole) await this.trial.ready(this.whole, trial);
    if (trial && this.detail) await this.trial.readyCloser(this.detail, trial);
    return this.actor.newest('try-depth', () => {
      const began = performance.now();
      if (!trial) this.trial.end();
      else if (this.whole) {
        this.trial.on(this.whole, trial);
        if (this.detail) this.trial.follow(this.whole, this.detail);
      }
      return Promise.resolve(performance.now() - began);
    });
  }

  /** The values of a map of the whole picture, without what is tried on it. */
  storedDepth(target: string | null): Uint16Array | undefined {
    return this.whole && (this.trial.before(this.whole) ?? this.whole.depthOf(target)?.data);
  }

  applyEdit(edit: LocalEdit): Promise<void> {
    return this.actor.run(() => {
      this.edits.push(edit);
      for (const layer of this.layers) layer.apply(edit.edit, edit.target);
    });
  }

  private get layers(): Layer[] {
    return [this.whole, this.detail].filter((layer) => layer !== undefined);
  }

  /** The layer that shows a full-size place best; undefined outside the picture. */
  layerAt(x: number, y: number): Layer | undefined {
    return [this.detail, this.whole].find((layer) => {
      if (!layer) return false;
      const { left, top, right, bottom } = layer.place;
      return x >= left && y >= top && x < right && y < bottom;
    });
  }

  /**
   * Draws what is asked for: the whole picture, and the window in detail over it. A newer look replaces one that
   * waits.
   */
  look(request: LookRequest): Promise<Look | undefined> {
    return this.actor.newest('look', () => this.draw(request));
  }

  private async draw(request: LookRequest): Promise<Look | undefined> {
    const { whole, detail } = this;
    if (!whole) return undefined;
    const began = performance.now();
    const asked = this.withoutSettled(request);
    const lens = lensOf(asked.ask);
    for (const layer of this.layers) if (asked.ask.lens !== layer.lastLens) layer.lastDrawn = undefined;
    for (const layer of this.layers) layer.lastLens = asked.ask.lens;
    const all = (layer: Layer): Promise<Drawn> | Drawn => lens.drawAll?.(layer, asked) ?? lens.draw(layer, asked);
    let base = await lens.draw(whole, asked);
    const drawn = [base];
    if (detail && !lens.notCloser?.(asked.ask) && base.frame?.right !== 2 * whole.place.right) {
      lens.lend?.(whole, detail, asked);
      let closer = await lens.draw(detail, asked);
      // Parts of both are laid into what is shown, or both are drawn whole.
      if (closer.part && !base.part) closer = await all(detail);
      else if (base.part && !closer.part) base = await all(whole);
      drawn.splice(0, 1, base, closer);
    }
    return lookOf(drawn, base.part, began);
  }

  /** A request without the edits of the hand that the rasters hold. */
  private withoutSettled(request: LookRequest): LookRequest {
    const { ask } = request;
    if (!('hands' in ask)) return request;
    return { ...request, ask: { ...ask, hands: ask.hands.filter(({ n }) => n > this.settledHand) } };
  }
}

const depthName = (names: RasterNames | undefined, target: string | null): string | undefined =>
  target === null ? names?.depth : names?.plates.find((p) => p.id === target)?.depth;

function lookOf(drawn: readonly Drawn[], parts: boolean, began: number): Look {
  const frames = drawn.map(({ frame }) => frame).filter((frame) => frame !== undefined);
  const look = { frames, parts, revealedShare: drawn[0]?.revealed ?? 0, milliseconds: performance.now() - began };
  return transfer(
    look,
    frames.map((frame) => frame.data.buffer),
  );
}
