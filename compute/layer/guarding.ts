import type { Move } from '@/core/camera/move';
import type { GuardedFrame } from '@/core/move/guard/findings';
import { openGuard, type Guard } from '@/core/move/guard/guard';
import type { Rect } from '@/core/raster/geometry';
import type { Premultiplied8 } from '@/core/raster/picture';
import type { Scene } from '@/core/scene/sceneAt';
import type { ShotRasters } from '@/core/shot/rasters';
import type { Layer } from './layer';

/** Frames of a move that are to be looked through. */
export interface Guarding {
  readonly scene: Scene;
  readonly move: Move;
  readonly frames: readonly number[];
  /** -1/2 left to +1/2 right; null: the camera itself. */
  readonly eyes: readonly (number | null)[];
  /** What is handed over, px of the source. */
  readonly part: Rect;
}

const opened = new WeakMap<ShotRasters<Premultiplied8>, { readonly key: string; readonly guard: Guard }>();

/** Looks frames through on a layer. */
export async function guarded(layer: Layer, { scene, move, frames, eyes, part }: Guarding): Promise<GuardedFrame[]> {
  await layer.prepare(scene);
  const { rasters } = layer.layout;
  const key = Object.values(part).join();
  let known = opened.get(rasters);
  if (known?.key !== key) {
    known = { key, guard: openGuard(rasters, layer.layout.fills(), layer.place.scale, part) };
    opened.set(rasters, known);
  }
  const { guard } = known;
  return frames.map((frame) => guard.see(scene, move, frame, eyes));
}
