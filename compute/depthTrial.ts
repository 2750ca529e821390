import { makeDepth, type DepthMake } from '@/core/depth/makers';
import { toDepthMap } from '@/core/depth/toDepthMap';
import type { DepthMap } from '@/core/raster/picture';
import type { Layer } from './layer/layer';
import type { Target } from './layer/strokes';

/** A whole depth map that is tried: in the layers, but not in the document. */
export interface Trial {
  readonly make: DepthMake;
  /** A plate, or null: the back plate. */
  readonly target: string | null;
  /** The map that marks began on, by its revision; null: the one that is there. */
  readonly base: string | null;
  /** The hand has not let go. */
  readonly quick: boolean;
}

/** Whole depth maps tried on the layers: the maps that were there come back when the trial ends. */
export class DepthTrial {
  private trial: Trial | undefined;
  /** What was there, by the layer it was in. */
  private readonly kept = new Map<Layer, { readonly target: Target; readonly data: Uint16Array }>();
  private bases = new Map<string, DepthMap>();

  /** @param fetchBase a stored depth map at a layer's size */
  constructor(private readonly fetchBase: (revision: string, layer: Layer) => Promise<Uint16Array>) {}

  /** The map that marks began on, fetched once. */
  async baseOf(trial: Trial, layer: Layer): Promise<DepthMap | undefined> {
    const { base } = trial;
    if (base === null) return undefined;
    const { width, height } = layer.picture;
    const known = this.bases.get(base);
    if (known?.width === width && known.height === height) return known;
    const map = { width, height, data: await this.fetchBase(base, layer) };
    this.bases = new Map([[base, map]]);
    return map;
  }

  /** Tries a map on the whole picture. @throws CoreError what it cannot be made of */
  on(layer: Layer, trial: Trial, base: DepthMap | undefined): void {
    if (this.trial && this.trial.target !== trial.target) this.end();
    const map = layer.depthOf(trial.target);
    if (!map) return;
    this.keep(layer, trial.target, map);
    const depth = { ...map, data: this.kept.get(layer)!.data };
    const { picture, place } = layer;
    const matte = layer.plates.find((p) => p.id === trial.target)?.matte;
    const made = makeDepth(
      {
        picture,
        depth,
        ...(base ? { base } : {}),
        ...(matte ? { matte } : {}),
        scale: place.scale,
        quick: trial.quick,
      },
      trial.make,
    );
    map.data.set(toDepthMap(map, made).data);
    layer.depthChanged();
    this.trial = trial;
  }

  /** Lays what is tried on the whole picture into a window of it. */
  follow(whole: Layer, window: Layer): void {
    const { trial } = this;
    const from = trial && whole.depthOf(trial.target);
    const to = trial && window.depthOf(trial.target);
    if (!from || !to) return;
    this.keep(window, trial.target, to);
    const { left, top, scale } = window.place;
    const step = whole.place.scale / scale;
    for (let y = 0, i = 0; y < to.height; y++) {
      const v = Math.min(from.height - 1, Math.max(0, (top * scale + y + 0.5) * step - 0.5));
      const y0 = Math.floor(v);
      const y1 = Math.min(from.height - 1, y0 + 1);
      for (let x = 0; x < to.width; x++, i++) {
        const u = Math.min(from.width - 1, Math.max(0, (left * scale + x + 0.5) * step - 0.5));
        const x0 = Math.floor(u);
        const x1 = Math.min(from.width - 1, x0 + 1);
        const a = from.data[y0 * from.width + x0] * (x0 + 1 - u) + from.data[y0 * from.width + x1] * (u - x0);
        const b = from.data[y1 * from.width + x0] * (x0 + 1 - u) + from.data[y1 * from.width + x1] * (u - x0);
        to.data[i] = a + (v - y0) * (b - a);
      }
    }
    window.depthChanged();
  }

  /** Tries the same on other layers of the same places. */
  again(whole: Layer, window: Layer | undefined, trial: Trial): void {
    this.on(whole, trial, trial.base === null ? undefined : this.bases.get(trial.base));
    if (window) this.follow(whole, window);
  }

  /** Ends the trial; what was there comes back. @returns what was tried */
  end(): Trial | undefined {
    const { trial } = this;
    for (const [layer, { target, data }] of this.kept) {
      layer.depthOf(target)?.data.set(data);
      layer.depthChanged();
    }
    this.kept.clear();
    this.trial = undefined;
    return trial;
  }

  /** What was there on a layer before the trial; undefined where nothing is tried. */
  before(layer: Layer): Uint16Array | undefined {
    return this.kept.get(layer)?.data;
  }

  /** A layer that is not shown any more. */
  drop(layer: Layer): void {
    this.kept.delete(layer);
  }

  private keep(layer: Layer, target: Target, map: DepthMap): void {
    if (!this.kept.has(layer)) this.kept.set(layer, { target, data: map.data.slice() });
  }
}
