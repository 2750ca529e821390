import { halvePicture } from '../raster/halve';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';
import { Likeness } from './likeness';
import { BorderBand, decideBorder } from './regionBorder';
import { RegionPieces, type Region } from './regionPieces';
import { halveStrokes, type Strokes } from './strokes';

/** Larger pictures are grown at half their size first, px. */
const LARGE = 8_000_000;
/** A border found at half the size lies this far off at most, px; so wide it is decided again. */
const BAND = 3;

/**
 * Grows a region from strokes that say "in" and "out". Made once for a picture, so that one more stroke is quick. A
 * large picture is
 * grown at half its size, and its own pixels decided only where the edge is.
 */
export class RegionPaint {
  private readonly way:
    { readonly smaller: RegionPaint; readonly likeness: Likeness } | { readonly pieces: RegionPieces };

  /** @param large from how many px on a picture is grown at half its size first @default 8 million */
  constructor(
    private readonly picture: Picture8,
    large = LARGE,
  ) {
    this.way =
      picture.width * picture.height > large
        ? { smaller: new RegionPaint(halvePicture(picture), large), likeness: new Likeness(picture) }
        : { pieces: new RegionPieces(picture) };
  }

  /**
   * The region that the strokes mean: 255 in, 0 out. A stroked pixel always keeps its side.
   * @throws CoreError `size-differs`; `no-strokes` where there is no stroke of one of the two kinds
   */
  solve(strokes: Strokes): Mask {
    requireSameSize('The strokes', strokes, 'the picture', this.picture);
    return this.region(strokes).mask;
  }

  private region(strokes: Strokes): Region {
    const { way, picture } = this;
    if ('pieces' in way) return way.pieces.solve(strokes);
    const { mask: coarse, models } = way.smaller.region(halveStrokes(strokes));
    const { width, height } = picture;
    const out = new Uint8Array(width * height);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) out[i] = coarse.data[(y >> 1) * coarse.width + (x >> 1)];
    const band = new BorderBand(width, height, BAND);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) band.look(x, y, out, strokes);
    decideBorder(out, band, { picture, likeness: way.likeness, strokes, models });
    return { mask: { width, height, data: out }, models };
  }
}
