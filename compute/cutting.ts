import { proxy, type Remote } from 'comlink';
import { EdgeTrace } from '@/core/matte/edgeTrace';
import { proposePieces, type Pieces } from '@/core/raster/pieces';
import { edgeFineness } from '@/core/matte/fineness';
import { findRim } from '@/core/matte/rim';
import { simplifyRing, traceRings } from '@/core/matte/rings';
import { countSpecks } from '@/core/matte/specks';
import { holds, toFullSize, toRaster, type Point } from '@/core/raster/geometry';
import { cleanColours } from '@/core/shot/plates';
import type { EyeApi } from './eye.worker';
import type { Chosen, Layer } from './layer/layer';
import type { LayerPlace } from './layer/place';
import type { Preview } from './preview';

/** How large the proposed pieces are. */
export type Grain = 'fine' | 'middle' | 'coarse';
const GRAINS: Record<Grain, { readonly scale: number; readonly smallest: number }> = {
  fine: { scale: 80, smallest: 30 },
  middle: { scale: 300, smallest: 120 },
  coarse: { scale: 1200, smallest: 500 },
};
/** So long a choice must rest before its band is solved, ms. */
const REST_MS = 350;

/** What a check found in the choice, or else in the plate in work: specks and rim pixels, of so many edge pixels. */
export interface CutFound {
  readonly specks: number;
  readonly rim: number;
  readonly edge: number;
}

/** What the preview knows for choosing and cutting: edges, pieces, soft bands, faults. */
export class Cutting {
  private trace: { readonly place: LayerPlace; readonly wire: EdgeTrace; within(p: Point): Point } | undefined;
  private readonly wires = new WeakMap<Layer, EdgeTrace>();
  private proposed: { readonly layer: Layer; readonly grain: Grain; readonly pieces: Pieces } | undefined;
  private tellSolving: ((share: number) => void) | undefined;
  /** Which matte is wanted; seen by the worker that solves it. */
  private readonly wanted = new Int32Array(new SharedArrayBuffer(4));
  private resting: ReturnType<typeof setTimeout> | undefined;
  private solving: string | undefined;

  constructor(
    private readonly preview: Preview,
    private readonly second: () => Remote<EyeApi> | undefined,
  ) {}

  inspect({ choice, spare, active }: Chosen, px: number): CutFound | undefined {
    const layer = this.preview.whole;
    const plate = layer?.plates.find((p) => p.id === active);
    const matte = choice ? layer?.choose(choice, spare, active) : plate?.matte;
    if (!matte || !layer) return undefined;
    const picture = (!choice && plate?.piece?.picture) || cleanColours(layer.picture, matte);
    const { count, edge } = findRim(picture, layer.picture, matte);
    const full = 1 / layer.place.scale ** 2;
    return { specks: countSpecks(matte, px / full), rim: Math.round(count * full), edge: Math.round(edge * full) };
  }

  /** How fine the choice's edge is, before anything of it is solved; undefined where nothing is chosen. @param px full-size */
  fineness({ choice, spare, active }: Chosen, px: number): number | undefined {
    const layer = this.preview.whole;
    if (!choice || !layer) return undefined;
    const matte = layer.choose(choice, spare, active);
    return matte && edgeFineness(matte, Math.max(2, px * layer.place.scale));
  }

  onSolving(tell: (share: number) => void): void {
    this.tellSolving = tell;
  }

  /** Once the choice rests, its band is solved in the second worker; whatever was being solved is dropped. */
  solveSoon(choosing: boolean): void {
    const layer = this.preview.whole;
    const second = this.second();
    const pending = choosing ? layer?.choosing.pending : undefined;
    if (pending && this.solving === pending.key) return;
    clearTimeout(this.resting);
    if (this.solving !== undefined) {
      this.solving = undefined;
      this.tellSolving?.(1);
    }
    const { wanted } = this;
    const work = Atomics.add(wanted, 0, 1) + 1;
    if (!pending || !second || !layer) return;
    this.solving = pending.key;
    const onProgress = proxy((share: number) => {
      if (Atomics.load(wanted, 0) === work) this.tellSolving?.(Math.min(0.99, share));
    });
    this.resting = setTimeout(() => {
      void second.solve({ picture: layer.picture, trimap: pending.trimap, work, wanted }, onProgress).then((matte) => {
        if (!matte || this.solving !== pending.key) return;
        this.solving = undefined;
        layer.choosing.solved(pending.key, matte);
        this.tellSolving?.(1);
      });
    }, REST_MS);
  }

  beginTrace(at: Point, reach: number): Point {
    const layer = this.preview.layerAt(at.x, at.y) ?? this.preview.whole!;
    const { width, height } = layer.picture;
    let wire = this.wires.get(layer);
    if (!wire) {
      wire = new EdgeTrace(layer.picture);
      this.wires.set(layer, wire);
    }
    const within = (p: Point): Point => ({
      x: Math.min(width - 0.5, Math.max(0, p.x)),
      y: Math.min(height - 0.5, Math.max(0, p.y)),
    });
    const { place } = layer;
    this.trace = { place, wire, within };
    const from = wire.snap(within(toRaster(at, place)), reach * place.scale);
    wire.begin(from);
    return tenths(toFullSize(from, place));
  }

  traceTo(at: Point, reach: number): Point[] {
    if (!this.trace) return [];
    const { place, wire, within } = this.trace;
    const to = wire.snap(within(toRaster(at, place)), reach * place.scale);
    return wire.pathTo(to).map((p) => tenths(toFullSize(p, place)));
  }

  piecesAlong(
    path: readonly Point[],
    gathered: readonly number[],
    grain: Grain,
  ): { readonly pieces: number[]; readonly rings: Point[][] } {
    const layer = this.preview.whole;
    if (!layer) return { pieces: [], rings: [] };
    const { width, height, of: pieceOf } = this.proposals(layer, grain);
    const { place } = layer;
    const found = new Set(gathered);
    for (const at of path) {
      if (!holds(place, at)) continue;
      const x = Math.min(width - 1, Math.floor(at.x * place.scale));
      const y = Math.min(height - 1, Math.floor(at.y * place.scale));
      found.add(pieceOf[y * width + x]);
    }
    if (found.size === 0) return { pieces: [], rings: [] };
    const mask = { width, height, data: Uint8Array.from(pieceOf, (p) => (found.has(p) ? 255 : 0)) };
    const rings = traceRings(mask)
      .map((ring) => simplifyRing(ring, 0.7))
      .filter((ring) => ring.length > 2);
    return { pieces: [...found], rings: rings.map((ring) => ring.map((p) => tenths(toFullSize(p, place)))) };
  }

  private proposals(layer: Layer, grain: Grain): Pieces {
    const { proposed } = this;
    if (proposed?.layer.picture === layer.picture && proposed.grain === grain) return proposed.pieces;
    const pieces = proposePieces(layer.picture, GRAINS[grain]);
    this.proposed = { layer, grain, pieces };
    return pieces;
  }
}

const tenths = ({ x, y }: Point): Point => ({ x: Math.round(x * 10) / 10, y: Math.round(y * 10) / 10 });
