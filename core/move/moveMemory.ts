import { CoreError } from '../error';
import { layOut, reach, type KernelExports } from '../kernels/kernels';
import type { Size } from '../kind';
import { boundsOf } from '../raster/bounds';
import { cropPicture, cropPlane } from '../raster/crop';
import type { Place, Rect } from '../raster/geometry';
import { isDeep, type DepthMap, type Premultiplied } from '../raster/picture';
import type { ShotRasters } from '../shot/rasters';
import { stepBackEdges, surfaceEdges, type SurfaceEdges } from '../stereo/surfaceEdges';
import { CELL_FLOATS, planarCells } from './cells';
import { doubled } from './doubled';

/** A surface's pixels, and where they lie. */
export interface MovePixels<P extends Premultiplied> {
  /** The plate's; null: the back plate's. */
  readonly id: string | null;
  readonly picture: P;
  readonly depth: DepthMap;
  /** Where its raster lies within the source. */
  readonly place: Place;
  /** Whether parts of it are clear. */
  readonly clear: boolean;
}

/** A surface in a move's memory. */
export interface HeldSurface extends Size {
  readonly id: string | null;
  readonly place: Place;
  readonly depth: number;
  readonly pixels: number;
  /** Where colours are sampled, at how many px a px; and how large that is. */
  readonly sampled: { readonly at: number; readonly scale: number } & Size;
  readonly cells: number;
  readonly quarters: number;
  readonly clear: boolean;
  /** Its edge pixels, where each row's begin, and a mark for every pixel; undefined where it has none. */
  readonly edges: { readonly list: number; readonly starts: number; readonly marks: number } | undefined;
}

/** Where everything of a move lies in its memory. */
export interface MoveMemory {
  readonly surfaces: readonly HeldSurface[];
  readonly camera: number;
  readonly map: number;
  readonly seen: number;
  readonly states: number;
  readonly index: number;
  readonly list: number;
  readonly tears: number;
  /** So many pixels that tears open are smoothed, and so many are strips. */
  readonly most: number;
}

/** Room to smooth one pixel that a tear has opened (kernels/source/relaxTears.ts), bytes; a strip's needs half. */
const TEAR_BYTES = 64;

/** What a shot's surfaces are made of, each cut to what shows. */
export function movePixels<P extends Premultiplied>(rasters: ShotRasters<P>, from: Place): MovePixels<P>[] {
  const { left, top: above, scale } = from;
  const { picture: ground, depth: map } = rasters;
  const back: MovePixels<P> = { id: null, picture: ground, depth: map, place: from, clear: false };
  const plates = rasters.plates.flatMap(({ id, picture, depth, top }): MovePixels<P>[] => {
    const rect: Rect | undefined = boundsOf(picture.width, picture.height, (i) => picture.data[i * 4 + 3] !== 0, 1);
    if (!rect) return [];
    const place = { left: left + rect.left / scale, top: above + (rect.top + top) / scale, scale };
    return [{ id, picture: cropPicture(picture, rect), depth: cropPlane(depth, rect), place, clear: true }];
  });
  return [back, ...plates];
}

/**
 * Lays surfaces into a module's memory, with room for frames of a size.
 * @param limits jump of depth from which each surface's edges are parted; 0: they are left as they are
 * @param fine colours are sampled at twice the size
 * @throws CoreError `too-large` where there are more edges than there is room for
 */
export function layOutMove(
  k: KernelExports,
  surfaces: readonly MovePixels<Premultiplied>[],
  limits: readonly number[],
  { size, fine }: { readonly size: Size; readonly fine: boolean },
): MoveMemory {
  const bytes = isDeep(surfaces[0].picture) ? 8 : 4;
  const edges = surfaces.map(({ picture, depth }, n) =>
    limits[n] > 0 ? surfaceEdges(picture, depth, limits[n]) : undefined,
  );
  const blocks = surfaces.flatMap(({ depth: { width, height } }, n) => [
    width * height * 2,
    width * height * bytes,
    fine ? (2 * width - 1) * (2 * height - 1) * bytes : 0,
    Math.ceil(width / 8) * Math.ceil(height / 8) * CELL_FLOATS * 4,
    Math.ceil(width / 4) * Math.ceil(height / 4) * CELL_FLOATS * 4,
    edges[n]?.list.length ?? 0,
    edges[n]?.starts.byteLength ?? 0,
    edges[n] ? width * height : 0,
  ]);
  requireRoom(
    surfaces,
    size,
    fine,
    edges.reduce((sum, e) => sum + (e?.list.length ?? 0), 0),
  );
  const count = size.width * size.height;
  const most = Math.ceil(count / 3);
  const frames = [12 * 4, count * 12, count * bytes, count, count * 4, most * 4, (most + 1) * TEAR_BYTES];
  const { at } = layOut([...blocks, ...frames], k);
  const [camera, map, seen, states, index, list, tears] = at.slice(blocks.length);
  reach(tears + (most + 1) * TEAR_BYTES + 64, k);
  const each = blocks.length / surfaces.length;
  const held = surfaces.map((surface, n) =>
    layOutSurface(k, surface, edges[n], { at: at.slice(n * each, (n + 1) * each), fine }),
  );
  return { surfaces: held, camera, map, seen, states, index, list, tears, most };
}

function layOutSurface(
  k: KernelExports,
  { id, picture, depth, place, clear }: MovePixels<Premultiplied>,
  edges: SurfaceEdges | undefined,
  { at, fine }: { readonly at: readonly number[]; readonly fine: boolean },
): HeldSurface {
  const [depthAt, pixelsAt, fineAt, cellsAt, quartersAt, listAt, startsAt, marksAt] = at;
  const { width, height } = depth;
  const { buffer } = k.memory;
  const depths = new Uint16Array(buffer, depthAt, width * height);
  const count = width * height * 4;
  const pixels = isDeep(picture) ? new Uint16Array(buffer, pixelsAt, count) : new Uint8Array(buffer, pixelsAt, count);
  depths.set(depth.data);
  pixels.set(picture.data);
  if (edges) {
    const marks = new Uint8Array(buffer, marksAt, width * height).fill(0);
    stepBackEdges(edges, { width, pixels, depth: depths, marks });
    new Uint8Array(buffer, listAt, edges.list.length).set(edges.list);
    new Int32Array(buffer, startsAt, edges.starts.length).set(edges.starts);
  }
  const shows = clear ? (i: number): boolean => picture.data[i * 4 + 3] > 0 : undefined;
  const map = { width, height, data: depths };
  for (const [to, side] of [
    [cellsAt, 8],
    [quartersAt, 4],
  ] as const) {
    const cells = planarCells(map, side, shows);
    new Float32Array(buffer, to, cells.length).set(cells);
  }
  const sampled = fine ? doubled({ ...picture, data: pixels } as Premultiplied) : undefined;
  if (sampled) {
    const bytes = new Uint8Array(sampled.data.buffer, sampled.data.byteOffset, sampled.data.byteLength);
    new Uint8Array(buffer, fineAt, bytes.length).set(bytes);
  }
  return {
    ...{ id, place, clear, width, height, depth: depthAt, pixels: pixelsAt, cells: cellsAt, quarters: quartersAt },
    sampled: sampled
      ? { at: fineAt, scale: 2, width: sampled.width, height: sampled.height }
      : { at: pixelsAt, scale: 1, width, height },
    edges: edges && edges.list.length > 0 ? { list: listAt, starts: startsAt, marks: marksAt } : undefined,
  };
}

/** Most that one module's memory can hold, a little below its 4 GB, bytes. */
const MOST_BYTES = 4e9;

/**
 * @param edgeBytes what their edge pixels take, once that is known
 * @throws CoreError `too-large` where surfaces and frames do not fit into a module's memory together
 */
export function requireRoom(
  surfaces: readonly MovePixels<Premultiplied>[],
  size: Size,
  fine: boolean,
  edgeBytes = 0,
): void {
  const bytes = isDeep(surfaces[0].picture) ? 8 : 4;
  // Besides pixels, depths and cells a mark for each.
  const held = surfaces.reduce(
    (n, { depth: { width, height } }) => n + width * height * (bytes * (fine ? 5 : 1) + 4 + 1),
    edgeBytes,
  );
  // The map and a third of the frame's pixels being smoothed.
  const frame = size.width * size.height * (12 + bytes + 1 + 4 + (4 + TEAR_BYTES) / 3);
  if (held + frame > MOST_BYTES)
    throw new CoreError(
      'too-large',
      `Frames of ${size.width} × ${size.height} px of this picture need ${Math.ceil((held + frame) / 1e9)} GB and a move has 4. Choose a smaller size.`,
    );
}
