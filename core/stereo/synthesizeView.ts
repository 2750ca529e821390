import { kernels, layOut } from '../kernels/kernels';
import { emptyPicture, isDeep, requireSameSize, type DepthMap, type Mask, type Picture } from '../raster/picture';
import { fillReveal } from '../fill/fillReveal';
import { CoreError } from '../error';
import { sourceEyePosition, type Budget, type SourceEye } from './parallax';

/** How one picture with depth is seen from one eye. */
export interface ViewGeometry {
  /** Parallax of depth white and black, px at the picture's width. */
  readonly budget: Budget;
  /** Which view the source stands for. */
  readonly sourceEye: SourceEye;
  /** Eye position, -1/2 left to +1/2 right. */
  readonly eye: number;
  /** Parallax jump between neighbours, px at the picture's width, beyond which the picture tears. @default 2 */
  readonly tearPx?: number;
  /** What becomes of revealed pixels: a membrane from the farther side, each row's farther colour drawn on, or left transparent. @default 'fill' */
  readonly holes?: 'fill' | 'row' | 'keep';
  /** Give pixels beside a nearer thing to that thing: mixed edge pixels are its own. @default true */
  readonly growNear?: boolean;
}

export interface SynthesizedView<P extends Picture> {
  readonly picture: P;
  /** 255 where the view shows what the source does not. */
  readonly revealed: Mask;
  readonly revealedCount: number;
}

/** Tear limit where none is given, px of parallax between neighbours. */
export const DEFAULT_TEAR_PX = 2;

const PAD = 8;
/** Rows a turn: what a turn touches stays in the processor's cache. */
const BAND_BYTES = 1 << 19;

/** Room to render into again and again, so that a preview allocates nothing per frame. */
export interface ViewBuffers<P extends Picture> {
  readonly picture: P;
  readonly revealed: Mask;
  /** The source x in 1/256 px that every target pixel shows. */
  readonly coordinates: Int32Array;
}

/** Buffers for views of `picture`. */
export function viewBuffers<P extends Picture>(picture: P): ViewBuffers<P> {
  const { width, height } = picture;
  return {
    picture: emptyPicture(picture, width, height),
    revealed: { width, height, data: new Uint8Array(width * height) },
    coordinates: new Int32Array(width * height),
  };
}

/**
 * One view of a picture with depth: forward mapping by a one-dimensional mesh with tears, gaps filled from the farther side.
 *
 * Alpha travels with the colour; a picture that has any transparency must be premultiplied.
 * @throws CoreError `size-differs`, `bad-geometry`
 * Source: Fehn, "Depth-image-based rendering (DIBR), compression and transmission for a new approach on 3D-TV", SPIE 5291, 2004.
 */
export function synthesizeView<P extends Picture>(
  picture: P, depth: DepthMap, geometry: ViewGeometry, out: ViewBuffers<P> = viewBuffers(picture),
): SynthesizedView<P> {
  requireSameSize('The depth map', depth, 'the picture', picture);
  const { width, height } = picture;
  const { nearPx, farPx } = geometry.budget;
  const tearPx = geometry.tearPx ?? DEFAULT_TEAR_PX;
  if (![nearPx, farPx, geometry.eye, tearPx].every(Number.isFinite) || tearPx < 0 || Math.max(Math.abs(nearPx), Math.abs(farPx)) > width) {
    throw new CoreError('bad-geometry', `Parallax ${nearPx} to ${farPx} px with a tear limit of ${tearPx} px cannot be shown: parallax must lie within the picture's width of ${width} px and the tear limit must not be negative.`);
  }
  const factor = geometry.eye - sourceEyePosition(geometry.sourceEye);

  // Shift = factor * parallax. Nearer is the smaller parallax, so it lands farther left in an eye to the right of the source:
  // walked left to right there, right to left in an eye to the left, the nearest is always drawn last.
  const scale = (factor * (nearPx - farPx)) / 65535;
  const base = factor * farPx;
  const direction = factor >= 0 ? 1 : -1;
  const tear = Math.round(Math.abs(factor) * tearPx * 256);
  const span = Math.abs(nearPx - farPx);
  const jump = span > 0 ? Math.min(65535, Math.round((tearPx / span) * 65535)) : 65535;
  // Where the budget puts black in front, white is not the near side and is not grown.
  const grow = (geometry.growNear ?? true) && nearPx < farPx ? jump : -1;

  const bytes = isDeep(picture) ? 8 : 4;
  const stride = width + 4;
  const depthStride = ((width + 7) & ~7) + 2 * PAD;
  const band = Math.max(1, Math.min(height, Math.floor(BAND_BYTES / (stride * bytes))));
  const rowScratch = ((width + 15) & ~7) * 4;
  const { at, buffer } = layOut([stride * bytes * band, depthStride * 2 * (band + 2), stride * bytes * band, width * band + 16, rowScratch * 3 + 64, rowScratch * band]);
  const make = (offset: number, n: number) => (isDeep(picture) ? new Uint16Array(buffer, offset, n) : new Uint8Array(buffer, offset, n));
  const src = make(at[0], stride * 4 * band), result = make(at[2], stride * 4 * band);
  const depthRows = new Uint16Array(buffer, at[1], depthStride * (band + 2));
  const mask = new Uint8Array(buffer, at[3], width * band);
  const k = kernels();
  let revealedCount = 0;
  for (let y0 = 0; y0 < height; y0 += band) {
    const n = Math.min(band, height - y0);
    for (let y = 0; y < n; y++) src.set(picture.data.subarray((y0 + y) * width * 4, (y0 + y + 1) * width * 4), y * stride * 4);
    for (let y = -1; y <= n; y++) copyDepthRow(depth, Math.min(height - 1, Math.max(0, y0 + y)), depthRows, (y + 1) * depthStride);
    revealedCount += k.renderRows(at[0], at[1], at[2], at[3], at[5], at[4], width, n, depthStride, base, scale, tear, grow, direction, bytes);
    for (let y = 0; y < n; y++) out.picture.data.set(result.subarray(y * stride * 4, y * stride * 4 + width * 4), (y0 + y) * width * 4);
    if (out?.coordinates) {
      for (let y = 0; y < n; y++) out.coordinates.set(new Int32Array(buffer, at[5] + y * rowScratch, width), (y0 + y) * width);
    }
    for (let y = 0; y < n; y++) out.coordinates.set(new Int32Array(buffer, at[5] + y * rowScratch, width), (y0 + y) * width);
    out.revealed.data.set(mask.subarray(0, n * width), y0 * width);
  }
  if (revealedCount > 0) {
    if (geometry.holes === 'keep') clearRevealed(out);
    else if (geometry.holes !== 'row') fillReveal(out, depth, { jump, blackIsNear: nearPx > farPx, grown: grow >= 0 });
  }
  return { picture: out.picture, revealed: out.revealed, revealedCount };
}

function clearRevealed(view: ViewBuffers<Picture>): void {
  const { data } = view.revealed;
  for (let i = data.indexOf(255); i >= 0; i = data.indexOf(255, i + 1)) view.picture.data.fill(0, i * 4, i * 4 + 4);
}

/** Copies one row with its end values repeated into the padding, so that neighbours of the border exist. */
function copyDepthRow(depth: DepthMap, y: number, to: Uint16Array, at: number): void {
  const { width, data } = depth;
  const row = y * width;
  to[at + PAD - 1] = data[row];
  to.set(data.subarray(row, row + width), at + PAD);
  to.fill(data[row + width - 1], at + PAD + width, at + PAD + width + PAD);
}
