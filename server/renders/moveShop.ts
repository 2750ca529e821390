import { blurred, shutterMoments } from '@/core/move/blur';
import { coverWindow } from '@/core/move/coverWindow';
import { halvedRasters, halvingsForScale } from '@/core/move/halvedRasters';
import { movedView, openMove, type MovedView, type OpenMove } from '@/core/move/openMove';
import { speedAt } from '@/core/move/speed';
import type { Size } from '@/core/kind';
import { unpremultiply } from '@/core/raster/alpha';
import { copyPicture, toEightBits, type Premultiplied, type Straight } from '@/core/raster/picture';
import { sceneAt, wholeScene, type Scene } from '@/core/scene/sceneAt';
import { handedSize, type ShotDocument } from '@/core/shot/document';
import type { ShotRasters } from '@/core/shot/rasters';

/** Frames of a shot's move, at one size after another. */
export class MoveShop {
  private readonly scene: Scene;
  private opened:
    | {
        readonly size: Size;
        readonly scale: number;
        readonly move: OpenMove<Premultiplied>;
        readonly view: MovedView<Premultiplied>;
      }
    | undefined;

  constructor(
    private readonly document: ShotDocument,
    private readonly rasters: ShotRasters<Premultiplied>,
  ) {
    this.scene = wholeScene(document);
  }

  /** What a camera sees at a frame. Frames may be rendered into the same room. @param eye null: the camera itself */
  see(
    frame: number,
    eye: number | null,
    { size, shutter }: { readonly size: Size; readonly shutter: number },
  ): Straight {
    const { move, view, scale } = this.open(size);
    const { scene } = this;
    const made = this.document.move!;
    const moment = (at: number): Straight => {
      move.render(sceneAt(scene, made, at), eye, view);
      const { hasAlpha } = this.document.source;
      return hasAlpha ? unpremultiply(copyPicture(view.picture)) : unpremultiply(view.picture, false);
    };
    if (shutter === 0) return moment(frame);
    const moments = shutterMoments(shutter, speedAt(scene, made, frame) * scale);
    return blurred(moments.length, (n) => toEightBits(moment(frame + moments[n])));
  }

  private open(size: Size) {
    if (this.opened?.size.width === size.width && this.opened.size.height === size.height) return this.opened;
    const { document, rasters } = this;
    const { window } = coverWindow(handedSize(document), size);
    const { left, top } = document.frame ?? { left: 0, top: 0 };
    const placed = { ...window, left: window.left + left, top: window.top + top };
    const times = halvingsForScale(window.scale);
    const move = openMove(halvedRasters(rasters, times), { size, window: placed, scale: 0.5 ** times, fine: true });
    return (this.opened = { size, scale: window.scale, move, view: movedView(rasters.picture, size) });
  }
}
