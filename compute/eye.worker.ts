import { expose } from 'comlink';
import type { Revealed } from '@/core/fill/revealMap';
import type { MoveLook } from '@/core/move/moveReveal';
import { revealSteps } from './layer/revealCounter';
import { solved } from '@/core/matte/choice';
import type { MovedView } from '@/core/move/openMove';
import type { SceneAt } from '@/core/scene/sceneAt';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { ShotRasters } from '@/core/shot/rasters';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';
import { renderView } from '@/core/view/renderView';
import type { Mask, Picture8, Premultiplied8 } from '@/core/raster/picture';
import { Mover } from './layer/mover';
import type { LayerPlace } from './layer/place';

// Renders the other eye beside the preview worker, on the processor's second core. All pixels lie in shared memory.

class Unwanted extends Error {}

/** Which count of a layer's reveal map is the newest. */
const counting = new Map<number, number>();
/** Lets what was asked meanwhile go first. */
const breath = (): Promise<void> =>
  new Promise((done) => {
    setTimeout(done);
  });

const held = new Map<
  number,
  {
    readonly rasters: ShotRasters<Premultiplied8>;
    readonly out: ViewBuffers<Premultiplied8>;
    readonly mover: Mover;
  }
>();

/** A reveal map that is wanted. */
export interface RevealElsewhere {
  readonly layer: number;
  /** The newest of a layer counts. */
  readonly count: number;
  readonly scene: SceneFrame;
  readonly eyes: readonly number[];
  readonly scale: number;
  /** Raster px. */
  readonly marginPx: number;
  readonly move: MoveLook | null;
}

/** A matte that is to be solved in its band. */
export interface Solving {
  readonly picture: Picture8;
  readonly trimap: Mask;
  readonly work: number;
  /** Shared: the number of the work that is wanted now. */
  readonly wanted: Int32Array;
}

const api = {
  /** Takes what a layer is rendered from, and where its views go. */
  take(layer: number, rasters: ShotRasters<Premultiplied8>, out: ViewBuffers<Premultiplied8>, place: LayerPlace): void {
    held.set(layer, { rasters, out, mover: new Mover(place) });
  },
  forget(layer: number): void {
    held.delete(layer);
    counting.delete(layer);
  },
  /** Renders a layer and returns the number of revealed pixels. */
  render(layer: number, scene: SceneFrame, eye: number, scale: number): number {
    const { rasters, out } = held.get(layer)!;
    return renderView(scene, rasters, eye, { scale, out }).revealedCount;
  },
  /** Renders what a moved camera sees of a layer. */
  move(layer: number, scene: SceneAt, eye: number | null, out: MovedView<Premultiplied8>): void {
    const { rasters, mover } = held.get(layer)!;
    mover.render(rasters, scene, eye, out);
  },
  /** A layer's rasters have been painted on. */
  moveAnew(layer: number): void {
    const taken = held.get(layer);
    if (taken) held.set(layer, { ...taken, mover: taken.mover.anew() });
  },
  /**
   * What views uncover of a layer's plates; undefined where the count is not the newest any more. Views are rendered
   * in between.
   */
  async reveal({ layer, count, scene, ...who }: RevealElsewhere): Promise<readonly Revealed[] | undefined> {
    counting.set(layer, count);
    const rasters = held.get(layer)?.rasters;
    if (!rasters) return undefined;
    const steps = revealSteps(scene, rasters, who);
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      await breath();
      if (counting.get(layer) !== count) return undefined;
    }
  },
  /** Solves a matte in its band; undefined where something else is wanted meanwhile. */
  solve({ picture, trimap, work, wanted }: Solving, onProgress: (share: number) => void): Mask | undefined {
    try {
      return solved(picture, trimap, (share) => {
        if (Atomics.load(wanted, 0) !== work) throw new Unwanted();
        onProgress(share);
      });
    } catch (error) {
      if (error instanceof Unwanted) return undefined;
      throw error;
    }
  },
};

export type EyeApi = typeof api;

self.addEventListener(
  'message',
  (e: MessageEvent<MessagePort>) => {
    expose(api, e.data);
  },
  { once: true },
);
