import { LRUCache } from 'lru-cache';
import { makeDepth, type DepthMake } from '@/core/depth/makers';
import { keepPainted } from '@/core/depth/keepPainted';
import { toDepthMap } from '@/core/depth/toDepthMap';
import type { DepthMap } from '@/core/raster/picture';
import type { Layer } from './layer/layer';
import type { Target } from './layer/strokes';

/** What is tried on a depth map: in the layers, but not in the document. */
export type Trial = MadeTrial | Wipe;

/** A whole depth map. */
interface MadeTrial {
  readonly make: DepthMake;
  /** A plate, or null: the back plate. */
  readonly target: string | null;
  /** The map that marks began on, by its revision; null: the one that is there. */
  readonly base: string | null;
  /** What marks made before the map was painted on; null where nobody did. */
  readonly painted: string | null;
  /** The hand has not let go. */
  readonly quick: boolean;
}

/** Two versions of a map side by side, by their revisions; null: as it stands. */
export interface Wipe {
  readonly target: string | null;
  readonly left: string | null;
  readonly right: string | null;
  /** Where the one ends and the other begins, share of the picture's width. */
  readonly at: number;
}

/** Maps of other revisions are kept, so many of a layer's size. */
const KEPT = 6;

const namesIn = (trial: Trial): string[] =>
  ('make' in trial ? [trial.base, trial.painted] : [trial.left, trial.right]).filter((revision) => revision !== null);

const keyOf = (revision: string, { place }: Layer): string =>
  [revision, place.left, place.top, place.right, place.bottom, place.scale].join(' ');

/** Whole depth maps tried on the layers: the maps that were there come back when the trial ends. */
export class DepthTrial {
  private trial: Trial | undefined;
  /** Full-size px. */
  private fullWidth = 0;
  /** What was there, by the layer it was in. */
  private readonly kept = new Map<Layer, { readonly target: Target; readonly data: Uint16Array }>();
  private readonly stored = new LRUCache<string, DepthMap>({ max: KEPT });

  /** @param fetchStored a stored depth map at a layer's size */
  constructor(private readonly fetchStored: (revision: string, layer: Layer) => Promise<Uint16Array>) {}

  /** Fetches the stored maps that a trial needs on a layer. @param trial @default what is tried */
  async ready(layer: Layer, trial: Trial | undefined = this.trial): Promise<void> {
    const { width, height } = layer.picture;
    for (const revision of trial ? namesIn(trial) : []) {
      const key = keyOf(revision, layer);
      if (!this.stored.has(key)) this.stored.set(key, { width, height, data: await this.fetchStored(revision, layer) });
    }
  }

  /** The same for a window in detail, which only versions side by side need. */
  async readyCloser(layer: Layer, trial: Trial | undefined = this.trial): Promise<void> {
    if (trial && !('make' in trial)) await this.ready(layer, trial);
  }

  private storedOn(layer: Layer, revision: string | null): DepthMap | undefined {
    return revision === null ? undefined : this.stored.get(keyOf(revision, layer));
  }

  /** Tries something on the whole picture. @throws CoreError what a map cannot be made of */
  on(layer: Layer, trial: Trial): void {
    if (this.trial && this.trial.target !== trial.target) this.end();
    this.fullWidth = layer.place.right;
    const map = layer.depthOf(trial.target);
    if (!map) return;
    this.keep(layer, trial.target, map);
    if ('make' in trial) this.makeOn(layer, trial, map);
    else this.wipeOn(layer, trial, map);
    layer.depthChanged();
    this.trial = trial;
  }

  private makeOn(layer: Layer, trial: MadeTrial, map: DepthMap): void {
    const depth = { ...map, data: this.kept.get(layer)!.data };
    const base = this.storedOn(layer, trial.base);
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
    const before = this.storedOn(layer, trial.painted);
    const whole = toDepthMap(map, made);
    map.data.set((before ? keepPainted(whole, depth, before) : whole).data);
  }

  /** @returns false where a version is not there at this layer's size yet */
  private wipeOn(layer: Layer, { left, right, at }: Wipe, map: DepthMap): boolean {
    const as = (revision: string | null): Uint16Array | undefined =>
      revision === null ? this.kept.get(layer)!.data : this.storedOn(layer, revision)?.data;
    const [before, after] = [as(left), as(right)];
    if (!before || !after) return false;
    const { place } = layer;
    const { width, height, data } = map;
    // The whole picture begins at 0 and is as wide as what a share is a share of.
    const edge = Math.round(Math.min(width, Math.max(0, (at * this.fullWidth - place.left) * place.scale)));
    for (let y = 0; y < height; y++) {
      const row = y * width;
      data.set(before.subarray(row, row + edge), row);
      data.set(after.subarray(row + edge, row + width), row + edge);
    }
    return true;
  }

  /** Lays what is tried on the whole picture into a window of it. */
  follow(whole: Layer, window: Layer): void {
    const { trial } = this;
    const from = trial && whole.depthOf(trial.target);
    const to = trial && window.depthOf(trial.target);
    if (!from || !to) return;
    this.keep(window, trial.target, to);
    if (!('make' in trial) && this.wipeOn(window, trial, to)) {
      window.depthChanged();
      return;
    }
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
    this.on(whole, trial);
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
