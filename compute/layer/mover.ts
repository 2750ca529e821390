import { openMove, type MovedView, type OpenMove } from '@/core/move/openMove';
import type { Premultiplied8 } from '@/core/raster/picture';
import type { SceneAt } from '@/core/scene/sceneAt';
import type { LayerPlace } from './place';
import type { ShotRasters } from '@/core/shot/rasters';

/** A raster's own way to be moved through, opened when it is first asked for. */
export class Mover {
  private held: { readonly rasters: ShotRasters<Premultiplied8>; readonly move: OpenMove<Premultiplied8> } | undefined;

  /** @param place of the rasters in the source */
  constructor(private readonly place: LayerPlace) {}

  /** The same for rasters that have been painted on. */
  anew(): Mover {
    return new Mover(this.place);
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
      const { left, top, scale, shown } = this.place;
      // A window sees nothing beyond its own edge: there the whole picture goes on.
      const goOn = shown.left === left && shown.top === top && shown.right === this.place.right;
      const options = { scale, from: { left, top }, window: { left, top, scale }, size: { width, height }, goOn };
      this.held = { rasters, move: openMove(rasters, options) };
    }
    this.held.move.render(scene, eye, out);
  }
}
