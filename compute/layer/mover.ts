import { openMove, type MovedView, type OpenMove } from '@/core/move/openMove';
import type { Premultiplied8 } from '@/core/raster/picture';
import type { SceneAt } from '@/core/scene/sceneAt';
import type { ShotRasters } from '@/core/shot/rasters';

/** A raster's own way to be moved through, opened when it is first asked for. */
export class Mover {
  private held: { readonly rasters: ShotRasters<Premultiplied8>; readonly move: OpenMove<Premultiplied8> } | undefined;

  constructor(private readonly scale: number) {}

  /** The same for rasters that have been painted on. */
  anew(): Mover {
    return new Mover(this.scale);
  }

  /** What a camera sees. @param eye -1/2 left to +1/2 right; null: the camera itself */
  render(
    rasters: ShotRasters<Premultiplied8>,
    scene: SceneAt,
    eye: number | null,
    out: MovedView<Premultiplied8>,
  ): void {
    if (this.held?.rasters !== rasters) {
      const { width, height } = rasters.picture;
      const options = { scale: this.scale, window: { left: 0, top: 0, scale: this.scale }, size: { width, height } };
      this.held = { rasters, move: openMove(rasters, options) };
    }
    this.held.move.render(scene, eye, out);
  }
}
