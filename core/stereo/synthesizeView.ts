import { kernels, layOut, reach } from '../kernels/kernels';
import type { ColumnRange, Rect } from '../raster/geometry';
import { emptyPicture, isDeep, requireSameSize, type DepthMap, type Mask, type Premultiplied } from '../raster/picture';
import { putRect, rowsAtOnce, takeRows, WHOLE_WORDS } from '../raster/rows';
import { fillReveal, NODE_BYTES } from '../inpaint/fillReveal';
import { CoreError } from '../error';
import { EDGE_BYTES, EDGE_ROWS, edgeLimit, edgePixels } from './edgePixels';
import { drawFragments, fragmentsOf, FRAGMENT_BYTES } from './fragments';
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
  /**
   * What becomes of revealed pixels: a membrane from the farther side, each row's farther colour drawn on, or left
   * transparent. @default 'fill'
   */
  readonly holes?: 'fill' | 'row' | 'keep';
  /**
   * Pixels beside a jump of depth are mixed of both sides: they are parted into what stands in front and what lies behind
   * (`matted`), given to the nearer thing (`grown`), or taken as they are. @default 'matted'
   */
  readonly edges?: 'matted' | 'grown' | 'as-they-are';
  /**
   * The picture is clear outside these columns: only where something of them may show is drawn, what lies beyond in
   * the room stays as it was. @default all
   */
  readonly columns?: ColumnRange;
}

export interface SynthesizedView<P extends Premultiplied> {
  readonly picture: P;
  /** 255 where the view shows what the source does not. */
  readonly revealed: Mask;
  readonly revealedCount: number;
  /** The columns that were drawn. */
  readonly columns: ColumnRange;
}

/** Tear limit where none is given, px of parallax between neighbours. */
export const DEFAULT_TEAR_PX = 2;

/** Room to render into again and again, so that a preview allocates nothing per frame. */
export interface ViewBuffers<P extends Premultiplied> {
  readonly picture: P;
  readonly revealed: Mask;
}

/** Buffers for views of `picture`. */
export function viewBuffers<P extends Premultiplied>(picture: P): ViewBuffers<P> {
  const { width, height } = picture;
  return {
    picture: emptyPicture(picture, width, height),
    revealed: { width, height, data: new Uint8Array(width * height) },
  };
}

/**
 * One view of a picture with depth: forward mapping by a one-dimensional mesh with tears, gaps filled from the farther side.
 *
 * Alpha travels with the colour; a picture that has any transparency must be premultiplied.
 * @throws CoreError `size-differs`, `bad-geometry`
 * Source: Fehn, "Depth-image-based rendering (DIBR), compression and transmission for a new approach on 3D-TV", SPIE 5291, 2004.
 */
export function synthesizeView<P extends Premultiplied>(
  picture: P,
  depth: DepthMap,
  geometry: ViewGeometry,
  out: ViewBuffers<P> = viewBuffers(picture),
): SynthesizedView<P> {
  requireSameSize('The depth map', depth, 'the picture', picture);
  const { width, height } = picture;
  const { nearPx, farPx } = geometry.budget;
  const tearPx = geometry.tearPx ?? DEFAULT_TEAR_PX;
  if (
    ![nearPx, farPx, geometry.eye, tearPx].every(Number.isFinite) ||
    tearPx < 0 ||
    Math.max(Math.abs(nearPx), Math.abs(farPx)) > width
  ) {
    throw new CoreError(
      'bad-geometry',
      `Parallax ${nearPx} to ${farPx} px with a tear limit of ${tearPx} px cannot be shown: parallax must lie within the picture's width of ${width} px and the tear limit must not be negative.`,
    );
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
  const edges = geometry.edges ?? 'matted';
  const grow = edges === 'grown' && nearPx < farPx;

  const bytes = isDeep(picture) ? 8 : 4;
  // What lies just beside what is held takes part in its edges.
  const held = clamped(geometry.columns, EDGE_ROWS, width);
  const matted = edges === 'matted' && factor !== 0 && jump < 65535 && held.left < held.right;
  const columns = geometry.columns
    ? reached(geometry.columns, [base, base + scale * 65535], width)
    : { left: 0, right: width };
  const drawn = columns.right - columns.left;
  // The same for every eye, so that what is known of a band stays known.
  const band = Math.min(height, rowsAtOnce(width * bytes));
  const around = matted ? EDGE_ROWS : 1;
  const { at } = layOut([
    drawn * bytes * (band + 2 * around),
    drawn * 2 * (band + 2 * around) + 16,
    drawn * bytes * band,
    drawn * band,
    ((drawn + 31) & ~7) * 4 * 14,
    drawn * (band + 2 * around) + 16,
    128,
    (band + 1) * 4,
    NODE_BYTES,
  ]);
  const [src, map, to, mask, scratch, marksAt, sumsAt, startsAt, nodes] = at;
  const limits = { limit: edgeLimit(jump), blackIsNear: nearPx > farPx, ...held };
  const filled = (geometry.holes ?? 'fill') === 'fill';
  const fragments: Uint32Array[] = [];
  const k = kernels();
  let revealedCount = 0;
  for (let y0 = 0; y0 < height; y0 += band) {
    const n = Math.min(band, height - y0);
    const count = n * drawn;
    // Nodes are appended behind everything else; a band can reveal all its pixels at most. Edges lie behind them.
    const listAt = nodes + (filled ? 1 + revealedCount + count : 0) * NODE_BYTES;
    reach(listAt);
    if (filled && y0 === 0) new Uint8Array(k.memory.buffer, nodes, NODE_BYTES).fill(0);
    const rows: Rect = { ...columns, top: y0, bottom: y0 + n };
    takeRows(picture, rows, around, samplesAt(src, drawn * (n + 2 * around), bytes));
    takeRows(depth, rows, around, new Uint16Array(k.memory.buffer, map, drawn * (n + 2 * around)));
    const edgeCount = matted
      ? edgePixels(
          {
            ...{ picture, depth, first: y0, end: y0 + n, column: columns.left, width: drawn },
            ...{ pixelsAt: src, depthAt: map, marksAt, sumsAt, startsAt, listAt },
          },
          limits,
        )
      : 0;
    const fragmentsAt = (listAt + edgeCount * EDGE_BYTES + 15) & ~15;
    // Every edge has two pieces of strip, each as long as what is not torn may be.
    if (edgeCount > 0) reach(fragmentsAt + (1 + edgeCount * 2 * (2 + Math.ceil(tear / 256))) * FRAGMENT_BYTES);
    revealedCount += k.renderRows(
      src + around * drawn * bytes,
      map + (around - 1) * drawn * 2,
      to,
      mask,
      scratch,
      filled ? nodes : 0,
      1 + revealedCount,
      y0,
      drawn,
      n,
      base,
      scale,
      tear,
      jump,
      grow ? 1 : 0,
      nearPx > farPx ? -1 : 1,
      direction,
      bytes,
      edgeCount > 0 ? listAt : 0,
      startsAt,
      columns.left - held.left,
      edgeCount > 0 ? fragmentsAt : 0,
    );
    putRect(samplesAt(to, count, bytes), out.picture.data, rows, { width, samples: 4 });
    putRect(new Uint8Array(k.memory.buffer, mask, count), out.revealed.data, rows, { width, samples: 1 });
    if (edgeCount > 0) fragments.push(fragmentsOf(fragmentsAt));
  }
  if (revealedCount > 0) {
    if (filled) fillReveal(out.picture, nodes, 1 + revealedCount, columns);
    else if (geometry.holes === 'keep') clearRevealed(out);
    for (const some of fragments) revealedCount -= drawFragments(out, some, columns, geometry.holes === 'keep');
  }
  return { picture: out.picture, revealed: out.revealed, revealedCount, columns };
}

function clearRevealed(view: ViewBuffers<Premultiplied>): void {
  const { data } = view.revealed;
  for (let i = data.indexOf(255); i >= 0; i = data.indexOf(255, i + 1)) view.picture.data.fill(0, i * 4, i * 4 + 4);
}

/**
 * The columns in which something of `held` may land, and from which something may land over it.
 * @param shifts the least and the most, in any order, px
 */
function reached(held: ColumnRange, shifts: readonly [number, number], width: number): ColumnRange {
  // At a tear a column reaches half a px beyond itself.
  const least = Math.floor(Math.min(...shifts)) - 1;
  const most = Math.ceil(Math.max(...shifts)) + 1;
  const lands = { left: held.left + least, right: held.right + most };
  const left = Math.min(held.left, lands.left, lands.left - most) - 1;
  const right = Math.max(held.right, lands.right, lands.right - least) + 1;
  // Something is always drawn, also where all of it has left the picture.
  const whole = (x: number): number =>
    Math.min(Math.max(0, Math.floor(x / WHOLE_WORDS)), Math.floor((width - 1) / WHOLE_WORDS)) * WHOLE_WORDS;
  return { left: whole(left), right: Math.min(width, whole(right - 1) + WHOLE_WORDS) };
}

function samplesAt(at: number, count: number, bytes: number): Uint8Array | Uint16Array {
  const { buffer } = kernels().memory;
  return bytes === 8 ? new Uint16Array(buffer, at, count * 4) : new Uint8Array(buffer, at, count * 4);
}

/** The columns that hold anything, and so many around them, within the picture. */
const clamped = (columns: ColumnRange | undefined, around: number, width: number): ColumnRange => ({
  left: Math.max(0, (columns?.left ?? 0) - around),
  right: Math.min(width, (columns?.right ?? width) + around),
});
