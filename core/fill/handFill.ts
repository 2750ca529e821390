import { applyFillEdit, type FillEdit, type FillTargets } from './edits';
import { WHOLE, type Rect, type Place } from '../raster/geometry';
import { copyPicture, type Premultiplied, type Straight } from '../raster/picture';
import { paintOn } from '../shot/paintOn';
import type { PlateGround } from './plateGround';

export interface HandFillOptions {
  /** Where the plate's raster lies in the whole picture. @default it is the whole picture */
  readonly place?: Place;
  /** The plate as it stands, where that is known already. @default made of the other two */
  readonly picture?: Premultiplied;
}

/** A plate that is filled by hand, edit after edit: what it shows follows what was put on it. */
export class HandFill implements FillTargets {
  /** The plate as it stands, with all that was put on it. */
  readonly picture: Premultiplied;

  readonly fill: Straight;
  readonly overpaint: Straight;
  private readonly place: Place;

  /**
   * @param bare the plate with nothing on it
   * @param put what was filled in and painted over its own pixels so far, straight alpha, of the plate's size and
   * bits; changed in place
   */
  constructor(
    private readonly bare: PlateGround<Premultiplied>,
    put: FillTargets,
    { place = WHOLE, picture }: HandFillOptions = {},
  ) {
    this.fill = put.fill;
    this.overpaint = put.overpaint;
    this.place = place;
    if (picture) {
      this.picture = picture;
      return;
    }
    this.picture = copyPicture(bare.picture);
    paintOn(this.picture, this, { hidden: bare.hidden });
  }

  /**
   * Does an edit. @param before is told the rectangle before anything in it is changed @returns that rectangle @throws
   * CoreError what applyFillEdit throws
   */
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
    paintOn(this.picture, this, { hidden: this.bare.hidden, rect });
  }
}
