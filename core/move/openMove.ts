import { fromRaster, parallaxReach, projectionOf, projectPoint, type Projection } from '../camera/projection';
import { eyePlace } from '../camera/rig';
import { inverseDistance } from '../camera/sourceCamera';
import { ownKernels } from '../kernels/kernels';
import type { Size } from '../kind';
import { clipRect, type Place, type Rect } from '../raster/geometry';
import { emptyPicture, isDeep, type Mask, type Premultiplied } from '../raster/picture';
import type { SceneAt } from '../scene/sceneAt';
import { drawnOf } from '../scene/sceneOf';
import type { ShotRasters } from '../shot/rasters';
import { edgeLimit } from '../stereo/edgePixels';
import { layOutMove, movePixels, requireRoom, type HeldSurface, type MoveMemory } from './moveMemory';
import { tearOf } from './tearOf';

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
  /** Of pictures whose colours are no colours edges are never parted. @default 'as-the-scene-says' */
  readonly edges?: 'as-the-scene-says' | 'as-they-are';
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
  const { scale = 1, fine = false, goOn = true, edges = 'as-the-scene-says', from = { left: 0, top: 0 } } = options;
  const window = options.window ?? { left: 0, top: 0, scale };
  const size = options.size ?? rasters.picture;
  const k = ownKernels();
  const bytes = isDeep(rasters.picture) ? 8 : 4;
  const surfaces = movePixels(rasters, { ...from, scale });
  requireRoom(surfaces, size, fine);
  const count = size.width * size.height;
  let laid: { readonly limits: string; readonly memory: MoveMemory } | undefined;
  /** Everything in its place, with edges parted by these limits. */
  const memoryFor = (limits: readonly number[]): MoveMemory => {
    const name = limits.join(' ');
    if (laid?.limits !== name) laid = { limits: name, memory: layOutMove(k, surfaces, limits, { size, fine }) };
    return laid.memory;
  };
  const draw = (scene: SceneAt, seenBy: Projection): MoveMemory => {
    const reachPx = parallaxReach(seenBy, scene.camera, scene);
    const drawn = [{ ...scene.back, id: null }, ...drawnOf(scene)];
    // Where nothing moves against anything no edge is seen otherwise: at rest a move is the source.
    const parted = edges === 'as-the-scene-says' && scene.partEdges && reachPx > 0;
    const limits = surfaces.map(({ id }) => {
      const surface = parted ? drawn.find((d) => d.id === id) : undefined;
      const tear = surface ? tearOf(scene, surface) : 65535;
      return tear < 65535 ? edgeLimit(tear) : 0;
    });
    const memory = memoryFor(limits);
    const { camera, map, seen, states, index, list, tears, most } = memory;
    new Uint8Array(k.memory.buffer, seen, count * bytes).fill(0);
    new Uint8Array(k.memory.buffer, states, count).fill(DRY);
    for (const surface of drawn) {
      const h = memory.surfaces.find(({ id }) => id === surface.id);
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
        h.edges?.marks ?? 0,
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
      const slack = (Math.abs(ends[0] - ends[1]) * tear) / 65535;
      // Behind a plate there is the next one; behind the back plate there is nothing.
      if (h.id === null) {
        k.relaxTears(map, seen, bytes, size.width, size.height, slack, index, list, tears, most, SWEEPS);
        if (memory.surfaces.some((s) => s.edges)) new Int32Array(k.memory.buffer, index, count).fill(-1);
      }
      if (!h.edges) continue;
      k.drawMoveStrips(
        h.edges.list,
        h.edges.starts,
        h.depth,
        h.pixels,
        bytes,
        h.width,
        h.height,
        camera,
        ...ends,
        tear,
        slack / 2,
        map,
        size.width,
        lands.top,
        lands.bottom,
        seen + above * bytes,
        states + above,
        index,
        tears,
        most,
      );
    }
    return memory;
  };
  return {
    size,
    render(scene, eye, out) {
      const place = eye === null ? undefined : eyePlace(scene.rig, scene.camera, scene.pose, eye);
      const { seen, states } = draw(scene, projectionOf(scene.camera, scene.pose, place, window));
      const { buffer } = k.memory;
      out.picture.data.set(
        bytes === 8 ? new Uint16Array(buffer, seen, count * 4) : new Uint8Array(buffer, seen, count * 4),
      );
      out.state.data.set(new Uint8Array(buffer, states, count));
    },
  };
}

/** So far beyond its corners a surface may land: half a pixel of its own, and what is drawn larger against cracks, px. */
const MARGIN = 4;

/**
 * Where a surface lands in what is seen: columns in fours, whole rows; undefined where it does not. A plane's every place lies
 * between its corners', at the one end of its depths or the other.
 */
function landsOn(
  seenBy: Projection,
  { place, width, height }: HeldSurface,
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
