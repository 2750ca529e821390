import { applyFillEdit, type FillEdit, type FillTargets } from './edits';
import { WHOLE, type Rect, type Place } from '../raster/geometry';
import type { Picture } from '../raster/picture';
import { paintOn } from '../shot/paintOn';
import type { PlateGround } from './plateGround';

/** A plate that is filled by hand, edit after edit: what it shows follows what was put on it. */
export class HandFill implements FillTargets {
  /** The plate as it stands, with all that was put on it. */
  readonly picture: Picture;

  /**
   * @param bare the plate with nothing on it
   * @param fill what was filled in so far, straight alpha, of the plate's size and bits; changed in place
   * @param overpaint what was painted over its own pixels so far; changed in place
   */
  constructor(
    private readonly bare: PlateGround<Picture>,
    readonly fill: Picture,
    readonly overpaint: Picture,
    private readonly place: Place = WHOLE,
  ) {
    const { width, height, data } = bare.picture;
    this.picture = { width, height, data: data.slice() } as Picture;
    paintOn(this.picture, bare.hidden, this);
  }

  /** Does an edit. @param before is told the rectangle before anything in it is changed @returns that rectangle @throws CoreError what applyFillEdit throws */
  apply(edit: FillEdit, before?: (rect: Rect) => void): Rect {
    const rect = applyFillEdit(
      { ground: { picture: this.picture, hidden: this.bare.hidden, ...this.place }, targets: this, before },
      edit,
    );
    this.show(rect);
    return rect;
  }

  /** Takes up what fill and overpaint hold in a rectangle. */
  show(rect: Rect): void {
    const { width, data } = this.picture;
    for (let y = rect.top; y < rect.bottom; y++)
      data.set(
        this.bare.picture.data.subarray((y * width + rect.left) * 4, (y * width + rect.right) * 4),
        (y * width + rect.left) * 4,
      );
    paintOn(this.picture, this.bare.hidden, this, 0, rect);
  }
}
