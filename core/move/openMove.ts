import { fromRaster, parallaxReach, projectionOf, projectPoint, type Projection } from '../camera/projection';
import { eyePlace } from '../camera/rig';
import { CoreError } from '../error';
import { inverseDistance } from '../camera/sourceCamera';
import { layOut, ownKernels, reach } from '../kernels/kernels';
import type { Size } from '../kind';
import { boundsOf } from '../raster/bounds';
import { cropPicture, cropPlane } from '../raster/crop';
import { clipRect, type Place, type Rect } from '../raster/geometry';
import { emptyPicture, isDeep, type DepthMap, type Mask, type Premultiplied } from '../raster/picture';
import type { SceneAt } from '../scene/sceneAt';
import { drawnOf } from '../scene/sceneOf';
import type { ShotRasters } from '../shot/rasters';
import { planarCells } from './cells';
import { tearOf } from './tearOf';
import { doubled } from './doubled';

export interface MoveOptions {
  /** Where what is seen lies within the source's frame, and its px a source px. @default all at source size */
  readonly window?: Place;
  /** What is seen, px. @default the source's size at the window's scale */
  readonly size?: Size;
  /** Raster px per source px. @default 1 */
  readonly scale?: number;
  /** Where the rasters begin, px of the source: of a part of a shot. @default its upper left */
  readonly from?: { readonly left: number; readonly top: number };
  /** Pictures are sampled at twice their size, so that a slow move does not shimmer. @default false */
  readonly fine?: boolean;
  /** Beyond the border the outermost pixels go on; else it stays clear. @default true */
  readonly goOn?: boolean;
}

/** What a moved camera sees. */
export interface MovedView<P extends Premultiplied> {
  readonly picture: P;
  /** Of what is seen of the picture's own: SEEN, TORN (a tear has opened it), DRY (beyond the border). */
  readonly state: Mask;
}
export const SEEN = 0;
export const TORN = 1;
export const DRY = 2;

/** A move's surfaces, ready to be seen from anywhere. */
export interface OpenMove<P extends Premultiplied> {
  readonly size: Size;
  /**
   * What the camera sees. Frames may be rendered by different workers: they come out the same, bit for bit.
   * @param eye -1/2 left to +1/2 right; null: the camera itself
   * @param out where it is drawn
   */
  render(scene: SceneAt, eye: number | null, out: MovedView<P>): void;
}

/** How far depths may stray from a plane, at most, in steps of 65535, and how far that may move anything, px. */
const PLANAR_MOST = 200;
const PLANAR_PX = 0.1;
/** Sweeps of the membrane over what tears have opened; more change less than the eye can see. */
const SWEEPS = 10;

interface Held {
  /** The plate's; null: the back plate's. */
  readonly id: string | null;
  /** Where its raster lies within the source. */
  readonly place: Place;
  readonly width: number;
  readonly height: number;
  readonly depth: number;
  readonly pixels: number;
  /** Where colours are sampled, at how many px a px; and how large that is. */
  readonly sampled: { readonly at: number; readonly scale: number } & Size;
  readonly cells: number;
  readonly quarters: number;
  readonly clear: boolean;
}

/** Room to see a move in. */
export function movedView<P extends Premultiplied>(like: P, { width, height }: Size): MovedView<P> {
  return { picture: emptyPicture(like, width, height), state: { width, height, data: new Uint8Array(width * height) } };
}

/**
 * Lays a shot's surfaces into memory of their own, to be seen from many places. Every surface is a mesh of its pixels on
 * their source rays, joined unless its depth tears; what a tear opens is drawn from its farther side; the nearer plates lie over the farther.
 * Preview and final both move by this, at different sizes.
 * Source: docs/computations.md, A camera through the picture.
 * @throws CoreError `too-large`
 */
export function openMove<P extends Premultiplied>(rasters: ShotRasters<P>, options: MoveOptions = {}): OpenMove<P> {
  const { scale = 1, fine = false, goOn = true, from = { left: 0, top: 0 } } = options;
  const window = options.window ?? { left: 0, top: 0, scale };
  const size = options.size ?? rasters.picture;
  const k = ownKernels();
  const bytes = isDeep(rasters.picture) ? 8 : 4;
  const surfaces = pixelsOf(rasters, { ...from, scale });
  requireRoom(surfaces, size, bytes, fine);
  const blocks: (Uint8Array | Uint16Array | Uint8ClampedArray | Float32Array)[] = [];
  const kept = (data: (typeof blocks)[number]): number => blocks.push(data) - 1;
  const begun = surfaces.map(({ id, picture, depth, place, clear }) => {
    const sampled = fine ? doubled(picture) : picture;
    const pixels = kept(picture.data);
    const shows = clear ? (i: number): boolean => picture.data[i * 4 + 3] > 0 : undefined;
    return {
      id,
      place,
      clear,
      width: depth.width,
      height: depth.height,
      depth: kept(depth.data),
      pixels,
      sampled: {
        at: fine ? kept(sampled.data) : pixels,
        scale: fine ? 2 : 1,
        width: sampled.width,
        height: sampled.height,
      },
      cells: kept(planarCells(depth, 8, shows)),
      quarters: kept(planarCells(depth, 4, shows)),
    };
  });
  const count = size.width * size.height;
  /** So many pixels that tears open are smoothed. */
  const most = Math.ceil(count / 3);
  const sizes = [12 * 4, count * 12, count * bytes, count, count * 4, most * 4, (most + 1) * TEAR_BYTES];
  const { at } = layOut([...blocks.map((b) => b.byteLength), ...sizes], k);
  blocks.forEach((block, n) => {
    new Uint8Array(k.memory.buffer).set(new Uint8Array(block.buffer, block.byteOffset, block.byteLength), at[n]);
  });
  const [camera, map, seen, states, index, list, tears] = at.slice(blocks.length);
  reach(tears + (most + 1) * TEAR_BYTES + 64, k);
  const held: Held[] = begun.map((b) => ({
    ...b,
    depth: at[b.depth],
    pixels: at[b.pixels],
    cells: at[b.cells],
    quarters: at[b.quarters],
    sampled: { ...b.sampled, at: at[b.sampled.at] },
  }));
  const draw = (scene: SceneAt, seenBy: Projection): void => {
    new Uint8Array(k.memory.buffer, seen, count * bytes).fill(0);
    new Uint8Array(k.memory.buffer, states, count).fill(DRY);
    const reachPx = parallaxReach(seenBy, scene.camera, scene);
    for (const surface of [{ ...scene.back, id: null }, ...drawnOf(scene)]) {
      const h = held.find(({ id }) => id === surface.id);
      if (!h) continue;
      const { matrix, epipole } = fromRaster(seenBy, h.place);
      new Float32Array(k.memory.buffer, camera, 12).set([...matrix, ...epipole]);
      const { near, far } = surface;
      const ends = [inverseDistance(near, scene.camera), inverseDistance(far, scene.camera)] as const;
      const lands =
        h.id === null ? { left: 0, top: 0, right: size.width, bottom: size.height } : landsOn(seenBy, h, ends, size);
      if (!lands) continue;
      const rows = lands.bottom - lands.top;
      const above = lands.top * size.width;
      const movesPx = (reachPx * Math.abs(near - far)) / 65535;
      const tear = tearOf(scene, surface);
      k.clearMap(map, rows * size.width);
      k.drawMesh(
        h.depth,
        h.clear ? h.pixels : 0,
        bytes,
        h.width,
        h.height,
        h.cells,
        h.quarters,
        camera,
        ...ends,
        Math.min(PLANAR_MOST, PLANAR_PX / movesPx),
        tear,
        goOn && h.id === null ? 1 : 0,
        map,
        size.width,
        lands.top,
        lands.bottom,
      );
      k.closeCracks(map, size.width, rows, lands.left, lands.right);
      const { sampled } = h;
      k.sampleMap(
        map,
        sampled.at,
        bytes,
        sampled.width,
        sampled.height,
        sampled.scale,
        seen + above * bytes,
        states + above,
        size.width,
        rows,
        lands.left,
        lands.right,
      );
      // Behind a plate there is the next one; behind the back plate there is nothing.
      if (h.id !== null) continue;
      const slack = (Math.abs(ends[0] - ends[1]) * tear) / 65535;
      k.relaxTears(map, seen, bytes, size.width, size.height, slack, index, list, tears, most, SWEEPS);
    }
  };
  return {
    size,
    render(scene, eye, out) {
      const place = eye === null ? undefined : eyePlace(scene.rig, scene.camera, scene.pose, eye);
      draw(scene, projectionOf(scene.camera, scene.pose, place, window));
      const { buffer } = k.memory;
      out.picture.data.set(
        bytes === 8 ? new Uint16Array(buffer, seen, count * 4) : new Uint8Array(buffer, seen, count * 4),
      );
      out.state.data.set(new Uint8Array(buffer, states, count));
    },
  };
}

/** Room to smooth one pixel that a tear has opened (kernels/source/relaxTears.ts), bytes. */
const TEAR_BYTES = 64;
/** So far beyond its corners a surface may land: half a pixel of its own, and what is drawn larger against cracks, px. */
const MARGIN = 4;

/**
 * Where a surface lands in what is seen: columns in fours, whole rows; undefined where it does not. A plane's every place lies
 * between its corners', at the one end of its depths or the other.
 */
function landsOn(
  seenBy: Projection,
  { place, width, height }: Held,
  ends: readonly [number, number],
  size: Size,
): Rect | undefined {
  const whole = { left: 0, top: 0, right: size.width, bottom: size.height };
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  const projection = fromRaster(seenBy, place);
  for (const w of ends)
    for (const x of [-1, width])
      for (const y of [-1, height]) {
        const at = projectPoint(projection, { x, y }, w);
        // What reaches behind the camera may land anywhere.
        if (!at) return whole;
        box.left = Math.min(box.left, at.x);
        box.top = Math.min(box.top, at.y);
        box.right = Math.max(box.right, at.x);
        box.bottom = Math.max(box.bottom, at.y);
      }
  return clipRect(
    {
      left: Math.floor((box.left - MARGIN) / 4) * 4,
      top: Math.floor(box.top - MARGIN),
      right: Math.ceil((box.right + MARGIN) / 4) * 4,
      bottom: Math.ceil(box.bottom + MARGIN),
    },
    whole.right,
    whole.bottom,
  );
}

/** Most that one module's memory can hold, a little below its 4 GB, bytes. */
const MOST_BYTES = 4e9;

/** @throws CoreError `too-large` where surfaces and frames do not fit into a module's memory together */
function requireRoom(surfaces: readonly Pixels<Premultiplied>[], size: Size, bytes: number, fine: boolean): void {
  const held = surfaces.reduce(
    (n, { depth: { width, height } }) => n + width * height * (bytes * (fine ? 5 : 1) + 4),
    0,
  );
  // The map and a third of the frame's pixels being smoothed.
  const frame = size.width * size.height * (12 + bytes + 1 + 4 + (4 + TEAR_BYTES) / 3);
  if (held + frame > MOST_BYTES)
    throw new CoreError(
      'too-large',
      `Frames of ${size.width} × ${size.height} px of this picture need ${Math.ceil((held + frame) / 1e9)} GB and a move has 4. Choose a smaller size.`,
    );
}

/** A surface's pixels, and where they lie. */
interface Pixels<P extends Premultiplied> {
  readonly id: string | null;
  readonly picture: P;
  readonly depth: DepthMap;
  readonly place: Place;
  /** Whether parts of it are clear. */
  readonly clear: boolean;
}

/** What a shot's surfaces are made of, each cut to what shows. */
function pixelsOf<P extends Premultiplied>(rasters: ShotRasters<P>, from: Place): Pixels<P>[] {
  const { left, top: above, scale } = from;
  const { picture: ground, depth: map } = rasters;
  const back: Pixels<P> = { id: null, picture: ground, depth: map, place: from, clear: false };
  const plates = rasters.plates.flatMap(({ id, picture, depth, top }): Pixels<P>[] => {
    const rect: Rect | undefined = boundsOf(picture.width, picture.height, (i) => picture.data[i * 4 + 3] !== 0, 1);
    if (!rect) return [];
    const place = { left: left + rect.left / scale, top: above + (rect.top + top) / scale, scale };
    return [{ id, picture: cropPicture(picture, rect), depth: cropPlane(depth, rect), place, clear: true }];
  });
  return [back, ...plates];
}
