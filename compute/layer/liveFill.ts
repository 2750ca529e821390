import type { Painted8 } from './place';
import type { ShotRasters } from '@/core/shot/rasters';
import type { FillEdit } from '@/core/fill/edits';
import { unionRect, type Place, type Rect } from '@/core/raster/geometry';
import equal from 'fast-deep-equal';
import { CoreError } from '@/core/error';
import { HandFill } from '@/core/fill/handFill';
import { plateGround } from '@/core/fill/plateGround';
import { cropPicture } from '@/core/raster/crop';
import {
  copyPicture,
  pictureOf,
  type Picture,
  type Picture8,
  type Premultiplied8,
  type Straight,
  type Straight8,
} from '@/core/raster/picture';
import { putRect } from '@/core/raster/rows';
import type { HandEdit } from '../look';

/** An edit that is shown, and what lay there before it. */
interface Shown {
  readonly edit: FillEdit;
  readonly was?: { readonly rect: Rect; readonly fill: Picture; readonly overpaint: Picture };
}

/** One plate under the hand: what is drawn on it shows before the server has stored it, and while it is still being drawn. */
class PlateHand {
  private shown: Shown[] = [];

  constructor(readonly hand: HandFill) {}

  /** Shows these edits and no others. @returns what has changed */
  follow(edits: readonly FillEdit[]): Rect | undefined {
    let same = 0;
    let changed: Rect | undefined;
    while (same < edits.length && same < this.shown.length && equal(edits[same], this.shown[same].edit)) same++;
    for (const { was } of this.shown.splice(same).reverse()) {
      if (!was) continue;
      putBack(this.hand.fill, was.fill, was.rect);
      putBack(this.hand.overpaint, was.overpaint, was.rect);
      this.hand.show(was.rect);
      changed = unionRect(changed, was.rect);
    }
    for (const edit of edits.slice(same)) {
      let was: Shown['was'];
      try {
        changed = unionRect(
          changed,
          this.hand.apply(edit, (rect) => {
            was = { rect, fill: cropPicture(this.hand.fill, rect), overpaint: cropPicture(this.hand.overpaint, rect) };
          }),
        );
      } catch (error) {
        // What lands nowhere shows nothing; the server says so when it is asked.
        if (!(error instanceof CoreError)) throw error;
      }
      this.shown.push(was ? { edit, was } : { edit });
    }
    return changed;
  }
}

/** What hands draw on the plates of one layer, shown at once. Begun anew whenever the plates are laid out anew. */
export class LiveFill {
  private readonly hands = new Map<string | null, PlateHand | undefined>();

  /**
   * @param bare the plates with nothing put on them
   * @param painted what the server has stored of what was put on each
   */
  constructor(
    private readonly bare: ShotRasters<Premultiplied8>,
    private readonly painted: (plate: string | null) => Painted8,
    private readonly place: Place,
  ) {}

  /** Shows these edits and no others, in the rasters given. @returns what has changed on each plate */
  follow(edits: readonly HandEdit[], rasters: ShotRasters<Premultiplied8>): ReadonlyMap<string | null, Rect> {
    const changed = new Map<string | null, Rect>();
    for (const plate of new Set([...this.hands.keys(), ...edits.map((e) => e.plate)])) {
      const live = this.open(plate);
      const rect = live?.follow(edits.filter((e) => e.plate === plate).map((e) => e.edit));
      if (!live || !rect) continue;
      changed.set(plate, rect);
      const raster = plate === null ? { top: 0, picture: rasters.picture } : rasters.plates.find((p) => p.id === plate);
      if (raster) copyRows(live.hand.picture, raster.picture, raster.top, rect);
    }
    return changed;
  }

  /** What is filled in behind a plate as it is shown; undefined where no hand was on it. */
  fillOf(plate: string | null): Straight | undefined {
    return this.hands.get(plate)?.hand.fill;
  }

  private open(plate: string | null): PlateHand | undefined {
    if (this.hands.has(plate)) return this.hands.get(plate);
    const ground = plateGround(this.bare, plate);
    const { fill, overpaint } = this.painted(plate);
    const { width, height } = this.bare.picture;
    const copyFor = (picture: Straight8 | undefined): Straight8 =>
      picture ? copyPicture(picture) : pictureOf({ width, height }, new Uint8Array(width * height * 4), 'straight');
    const opened =
      ground &&
      new PlateHand(
        new HandFill(ground, { fill: copyFor(fill), overpaint: copyFor(overpaint) }, { place: this.place }),
      );
    this.hands.set(plate, opened);
    return opened;
  }
}

function putBack(picture: Picture, was: Picture, { left, top }: Rect): void {
  const rect = { left, top, right: left + was.width, bottom: top + was.height };
  putRect(was.data, picture.data, rect, { width: picture.width, samples: 4 });
}

/** Copies a rectangle of the canvas into a plate's rows, which begin at canvas row `first`. */
function copyRows(from: Picture, to: Picture8, first: number, { left, top, right, bottom }: Rect): void {
  for (let y = Math.max(first, top); y < Math.min(first + to.height, bottom); y++)
    to.data.set(
      from.data.subarray((y * from.width + left) * 4, (y * from.width + right) * 4),
      ((y - first) * to.width + left) * 4,
    );
}
