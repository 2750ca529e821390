import { halveDepth } from '../raster/halveDepth';
import { halvePicture } from '../raster/halve';
import { requireSameSize, type DepthMap, type Mask, type Picture8 } from '../raster/picture';
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
 * large picture is grown at half its size, and its own pixels decided only where the edge is.
 */
export class RegionPaint {
  private readonly way: { readonly smaller: RegionPaint } | { readonly pieces: RegionPieces };

  /** @param large from how many px on a picture is grown at half its size first @default 8 million */
  constructor(
    private readonly picture: Picture8,
    large = LARGE,
  ) {
    this.way =
      picture.width * picture.height > large
        ? { smaller: new RegionPaint(halvePicture(picture), large) }
        : { pieces: new RegionPieces(picture) };
  }

  /**
   * The region that the strokes mean, as far as it is joined to them: 255 in, 0 out. A stroked pixel always keeps its
   * side.
   * @param depth a fourth channel: what lies at the depths of the strokes is likelier theirs, and edges of depth are
   * likelier
   * edges, as far as the strokes themselves can be told apart by it @default colours alone
   * @throws CoreError `size-differs`; `no-strokes` where there is no stroke of one of the two kinds
   */
  solve(strokes: Strokes, depth?: DepthMap): Mask {
    this.require(strokes, depth);
    return this.region(strokes, depth).mask;
  }

  /**
   * Where what the strokes mean is unsure: 255 where another side would come out if edges counted less or more.
   * @throws CoreError what solve throws
   */
  unsure(strokes: Strokes, depth?: DepthMap): Mask {
    this.require(strokes, depth);
    if ('pieces' in this.way) return this.way.pieces.unsure(strokes, depth);
    const { smaller } = this.way;
    return this.doubled(smaller.unsure(halveStrokes(strokes), depth && halveDepth(depth)));
  }

  private require(strokes: Strokes, depth: DepthMap | undefined): void {
    requireSameSize('The strokes', strokes, 'the picture', this.picture);
    if (depth) requireSameSize('The depth map', depth, 'the picture', this.picture);
  }

  private region(strokes: Strokes, depth: DepthMap | undefined): Region {
    const { way, picture } = this;
    if ('pieces' in way) return way.pieces.solve(strokes, depth);
    const { smaller } = way;
    const { mask, models } = smaller.region(halveStrokes(strokes), depth && halveDepth(depth));
    const { width, height } = picture;
    const out = this.doubled(mask);
    const band = new BorderBand(width, height, BAND);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) band.look(x, y, out.data, strokes);
    decideBorder(out.data, band, { picture, depth, likeness: new Likeness(picture, depth), strokes, models });
    return { mask: out, models };
  }

  private doubled(half: Mask): Mask {
    const { width, height } = this.picture;
    const data = new Uint8Array(width * height);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) data[i] = half.data[(y >> 1) * half.width + (x >> 1)];
    return { width, height, data };
  }
}
