import { copyPicture, emptyPicture, toEightBits, type Straight } from '../raster/picture';
import { anaglyph } from './anaglyph';
import { isAnaglyph, type Packing } from './packPair';
import { putHalf, sizeOfBoth, type Halves } from './sideBySide';

/**
 * Packs pair after pair of views of one size into the same room: of a film at full size, new room for each would take
 * longer than packing.
 */
export class PackedPair {
  private packed: Straight | undefined;
  private first: Straight | undefined;

  constructor(private readonly packing: Packing) {}

  /** Takes a pair's left view; its pixels may change afterwards. */
  left(view: Straight): void {
    if (isAnaglyph(this.packing)) {
      const eight = toEightBits(view);
      if (this.first?.data.length === eight.data.length) this.first.data.set(eight.data);
      else this.first = copyPicture(eight);
    } else this.put(view, 0);
  }

  /** Takes its right view, and gives both. */
  right(view: Straight): Straight {
    const { packing, first } = this;
    if (!isAnaglyph(packing)) return this.put(view, 1);
    const out = this.packed?.data as Uint8Array | undefined;
    return (this.packed = anaglyph(toEightBits(first!), toEightBits(view), packing, out));
  }

  private put(view: Straight, nth: 0 | 1): Straight {
    const way = this.packing as Halves;
    if (this.packed?.data.length !== 2 * view.data.length || this.packed.bits !== view.bits) {
      const { width, height } = sizeOfBoth(view, way);
      this.packed = emptyPicture(view, width, height);
    }
    putHalf(this.packed, view, way, nth);
    return this.packed;
  }
}
