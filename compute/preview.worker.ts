import { expose, wrap, type Remote } from 'comlink';
import type { BrushSettings, StrokePoint } from '@/core/depth/brush';
import { marksGroundOf, startOf } from '@/core/depth/makers/ground';
import type { VanishingPoint } from '@/core/depth/start/vanishingPoint';
import { findSpikes, type Spike, type SpikeSearch } from '@/core/depth/spikes';
import { tenths } from '@/core/depth/tenths';
import type { Rect } from '@/core/raster/geometry';
import type { GuardedFrame } from '@/core/move/guard/findings';
import type { SceneAt } from '@/core/scene/sceneAt';
import { outlinesOf, type Outline } from '@/core/move/outlines';
import { planOf, type PlanAxis, type PlanSize, type PlanStrip } from '@/core/scene/plan';
import type { SceneFrame } from '@/core/scene/sceneOf';
import { Cutting, type CutFound, type Grain } from './cutting';
import type { Trial } from './depthTrial';
import type { EyeApi } from './eye.worker';
import { giveBack } from './frameRoom';
import type { LookRequest } from './lenses';
import { guarded, type Guarding } from './layer/guarding';
import { movedFrames, type MovedAsk } from './lenses/moved';
import type { Chosen } from './layer/layer';
import type { Shot } from './layer/fetchRasters';
import type { Looking, RevealCount } from './layer/lookBehind';
import type { Target } from './layer/strokes';
import type { Look, RasterNames } from './look';
import { Preview, type Margin, type Held, type LocalEdit } from './preview';

// The page's own renderer: draws every way to see with the same core functions as the final render, one thing after
// another.

let second: Remote<EyeApi> | undefined;
let tellCounted: (() => void) | undefined;
const preview = new Preview(
  () => second,
  () => tellCounted?.(),
);
const cutting = new Cutting(preview, () => second);
const { actor } = preview;

const api = {
  /** Takes the way to the worker that renders the other eye. */
  meet(port: MessagePort): void {
    second = wrap<EyeApi>(port);
  },

  open: (shot: Shot, names: RasterNames, side: number): Promise<void> => preview.open(shot, names, side),
  takeRasters: (next: RasterNames, held: Held, force: boolean): Promise<boolean> =>
    preview.takeRasters(next, held, force),
  nameRasters: (next: RasterNames, unstored: readonly number[]): Promise<void> => preview.nameRasters(next, unstored),
  lookCloser: (shown: Rect | undefined, margin: Margin): Promise<void> => preview.lookCloser(shown, margin),
  beginStroke: (settings: BrushSettings, target: Target): Promise<void> => preview.beginStroke(settings, target),
  addPoints: (points: readonly StrokePoint[], request: LookRequest): Promise<Look | undefined> =>
    preview.addPoints(points, request),
  endStroke: (edits: readonly LocalEdit[]): Promise<void> => preview.endStroke(edits),
  tryDepth: (trial: Trial | undefined): Promise<number | undefined> => preview.tryDepth(trial),
  /**
   * What a start finds in the picture: how far what stands out and what is sharp speak of depth, and where lines
   * meet.
   */
  readStart: (): Promise<StartFound | undefined> =>
    actor.run(() => {
      const start = preview.whole && startOf(preview.whole.picture);
      return start && { standing: start.standing, sharpness: start.sharpness, vanishing: start.vanishing };
    }),
  /** Does beforehand what marks ask of the picture. */
  readyForMarks: (): Promise<void> =>
    actor.run(() => {
      if (preview.whole) marksGroundOf(preview.whole.picture).nodes(0);
    }),
  applyEdit: (edit: LocalEdit): Promise<void> => preview.applyEdit(edit),

  /** Draws what is asked for; undefined where something newer was asked for before it began. */
  async look(request: LookRequest): Promise<Look | undefined> {
    const look = await preview.look(request);
    cutting.solveSoon('choice' in request.ask && request.ask.choice !== undefined);
    return look;
  },

  /**
   * Frames of a move, in memory that the page sees too; undefined while nothing is held. One after another with what
   * else is asked.
   */
  movedFrames: (
    scenes: readonly SceneAt[],
    asks: readonly MovedAsk[],
  ): Promise<{ width: number; height: number; data: Uint8ClampedArray }[] | undefined> =>
    actor.run(() => {
      const layer = preview.whole;
      return layer && movedFrames(layer, scenes, asks, (bytes) => new Uint8ClampedArray(new SharedArrayBuffer(bytes)));
    }),

  /** What the guard knows of some frames of a move; undefined while nothing is held. */
  guardedFrames: (guarding: Guarding): Promise<GuardedFrame[] | undefined> =>
    actor.run(() => preview.whole && guarded(preview.whole, guarding)),

  /** Takes the room of frames that were shown, for the next ones. */
  giveBack(buffers: ArrayBuffer[]): void {
    buffers.forEach(giveBack);
  },

  /**
   * What is wrong with the choice, or else with the plate in work. Undefined where there is neither. @param px specks
   * are smaller than so many full-size px
   */
  inspect: (chosen: Chosen, px: number): Promise<CutFound | undefined> => actor.run(() => cutting.inspect(chosen, px)),

  /**
   * How fine the choice's edge is, 0 to 1; undefined where nothing is chosen. @param px thinner than so many
   * full-size px is fine
   */
  fineness: (chosen: Chosen, px: number): Promise<number | undefined> => actor.run(() => cutting.fineness(chosen, px)),

  /**
   * What the views uncover of every plate, nearest first, full-size px; undefined where something newer was asked for.
   * Looks are drawn meanwhile.
   */
  async revealCounts(scene: SceneFrame, looking: Looking): Promise<RevealCount[] | undefined> {
    const laid = await actor.run(async () => {
      const layer = preview.whole;
      await layer?.prepare(scene);
      if (!layer) return undefined;
      const { rasters, stamp } = layer.layout;
      return { layer, laid: { scene, rasters, scale: layer.place.scale, stamp }, fills: layer.layout.fills() };
    });
    return laid?.layer.behindView.counts(laid.laid, looking, laid.fills);
  },

  /** Where a plate's pixels are stretched most, full-size px. */
  worstStretch: (
    scene: SceneFrame,
    active: string | null,
  ): Promise<{ x: number; y: number; factor: number } | undefined> =>
    actor.run(async () => {
      const layer = preview.whole;
      if (!layer) return undefined;
      await layer.prepare(scene);
      const { rasters, stamp } = layer.layout;
      const { left, top, scale } = layer.place;
      const { worst } = layer.behindView.stretch({ scene, rasters, scale, stamp }, active);
      return { x: Math.round(left + worst.x / scale), y: Math.round(top + worst.y / scale), factor: worst.factor };
    }),

  /** Is told the share of a matte that is solved, 1 at its end, then the look is asked for anew. */
  onSolving(tell: (share: number) => void): void {
    cutting.onSolving(tell);
  },

  /** Is told when more is known of what views uncover: then the look is asked for anew. */
  onCounted(tell: () => void): void {
    tellCounted = tell;
  },

  /** Starts an edge trace at a full-size place, on the strongest edge within `reach` px; returns where. */
  beginTrace: (x: number, y: number, reach: number) => actor.run(() => cutting.beginTrace({ x, y }, reach)),
  /** The way along the picture's edges to another place, full-size px. */
  traceTo: (x: number, y: number, reach: number) => actor.run(() => cutting.traceTo({ x, y }, reach)),
  /**
   * The proposed pieces under a path of full-size places, beside those that are gathered already, and the border of
   * all together.
   */
  piecesAlong: (path: readonly { x: number; y: number }[], gathered: readonly number[], grain: Grain) =>
    actor.run(() => cutting.piecesAlong(path, gathered, grain)),

  /** Depth on the ruler, 0 to 1, of what is seen at a full-size place; undefined outside. */
  depthAt: (x: number, y: number, scene: SceneFrame): Promise<number | undefined> =>
    actor.run(() => {
      const layer = preview.layerAt(x, y);
      if (!layer) return undefined;
      const { left, top, scale } = layer.place;
      const { width, height } = layer.picture;
      const px = Math.min(width - 1, Math.floor((x - left) * scale));
      const py = Math.min(height - 1, Math.floor((y - top) * scale));
      return layer.absoluteMap(scene).data[py * width + px] / 65535;
    }),

  /** The borders of the plates, or of the nearer half. */
  outlines: (scene: SceneFrame): Promise<Outline[]> =>
    actor.run(async () => {
      const layer = preview.whole;
      if (!layer) return [];
      await layer.prepare(scene);
      return outlinesOf(layer.layout.rasters, scene, layer.place.scale);
    }),

  /** The surfaces from above or from the side, far to near. */
  plan: (scene: SceneFrame, axis: PlanAxis, size: PlanSize): Promise<PlanStrip[]> =>
    actor.run(async () => {
      const layer = preview.whole;
      if (!layer) return [];
      await layer.prepare(scene);
      return planOf(layer.layout.rasters, scene, axis, size);
    }),

  /**
   * How many pixels of a map lie at each of its own depths, far to near; a map that is tried counts as it was before.
   */
  depthCounts: (bins: number, target: string | null): Promise<number[]> =>
    actor.run(() => {
      const counts = new Array<number>(bins).fill(0);
      const data = preview.storedDepth(target) ?? new Uint16Array(0);
      for (let i = 0; i < data.length; i++) counts[(data[i] * bins) >>> 16]++;
      return counts;
    }),

  /** Narrow things that stand out of a map but not of the picture; places and widths in full-size px. */
  spikes: (target: string | null, { by, wide }: SpikeSearch): Promise<Omit<Spike, 'pixels'>[]> =>
    actor.run(() => {
      const layer = preview.whole;
      const map = layer?.depthOf(target);
      if (!layer || !map) return [];
      const { scale } = layer.place;
      return findSpikes(map, layer.picture, { by, wide: wide * scale }).map(({ pixels: _pixels, ...spike }) => ({
        ...spike,
        x: (spike.x + 0.5) / scale,
        y: (spike.y + 0.5) / scale,
        wide: spike.wide / scale,
      }));
    }),

  /** Between which of their own depths most of each plate lies (a tenth is left out at both ends), by plate. */
  bodies: (): Promise<{ readonly plate: string; readonly span: number }[]> =>
    actor.run(() =>
      (preview.whole?.plates ?? []).map(({ id, depth, matte }) => {
        const [far, , near] = tenths(depth, (i) => matte.data[i] >= 128) ?? [0, 0, 1];
        return { plate: id, span: near - far };
      }),
    ),

  /** Depth on the ruler along a row of the picture, from left to right. @param y full-size px */
  depthRow: (y: number, scene: SceneFrame): Promise<number[]> =>
    actor.run(() => {
      const layer = preview.whole;
      if (!layer) return [];
      const { width, height, data } = layer.absoluteMap(scene);
      const row = Math.min(height - 1, Math.max(0, Math.floor(y * layer.place.scale))) * width;
      return Array.from(data.subarray(row, row + width), (v) => v / 65535);
    }),

  /** How many pixels of the whole picture lie at each depth of the ruler, far to near. */
  histogram: (bins: number, scene: SceneFrame): Promise<number[]> =>
    actor.run(() => {
      const counts = new Array<number>(bins).fill(0);
      const data = preview.whole?.absoluteMap(scene).data ?? new Uint16Array(0);
      for (let i = 0; i < data.length; i++) counts[Math.min(bins - 1, (data[i] * bins) >>> 16)]++;
      return counts;
    }),
};

/** What a start finds in a picture. */
export interface StartFound {
  readonly standing: number;
  readonly sharpness: number;
  readonly vanishing: VanishingPoint | undefined;
}

export type PreviewApi = typeof api;

expose(api);
