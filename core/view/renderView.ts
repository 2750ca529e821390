import type { DepthMap, Premultiplied } from '../raster/picture';
import { drawnOf, type SceneFrame, type Surface } from '../scene/sceneOf';
import type { ShotRasters } from '../shot/rasters';
import { over } from '../stereo/over';
import { softenTears } from '../stereo/softenTears';
import { synthesizeView, viewBuffers, type SynthesizedView, type ViewBuffers } from '../stereo/synthesizeView';
import { geometryOf } from './geometryOf';
import { viewDepth } from './viewDepth';

export interface RenderViewOptions<P extends Premultiplied> {
  /** Raster px per source px. A jump of less than 1 px opens no gap at any size and never tears. @default 1 */
  readonly scale?: number;
  /** What becomes of what is revealed. @default 'fill' */
  readonly holes?: 'fill' | 'row' | 'keep';
  /** Where it is drawn. @default room of its own */
  readonly out?: ViewBuffers<P>;
}

/** A view of a shot, and the depth of what it shows. */
export interface RenderedView<P extends Premultiplied> extends SynthesizedView<P> {
  /**
   * Depth on the ruler of what the view shows, 0 farthest to 65535 nearest; worked out when it is asked for, before
   * the rasters change.
   */
  depth(): DepthMap;
}

/** Room for one plate after another, kept from call to call. */
const plateRoom = new WeakMap<object, ViewBuffers<Premultiplied>>();

/**
 * One view of a shot: every plate seen from the eye, the nearer over the farther. Preview and final render both call this, at
 * different sizes: parallax and tear limit are scaled from the source's width to the `scale` at which the rasters are given.
 *
 * @param eye -1/2 left to +1/2 right; swapped eyes each get what the other would see
 * @throws CoreError what synthesizeView throws
 */
export function renderView<P extends Premultiplied>(
  scene: SceneFrame,
  rasters: ShotRasters<P>,
  eye: number,
  options: RenderViewOptions<P> = {},
): RenderedView<P> {
  const { scale = 1, holes = 'fill', out = viewBuffers(rasters.picture) } = options;
  const soft = (surface: Surface): number => (holes === 'keep' ? 0 : surface.tearSoftPx * scale);
  const depth = (): DepthMap => viewDepth(scene, rasters, eye, scale);
  const view = synthesizeView(rasters.picture, rasters.depth, geometryOf(scene, scene.back, eye, options), out);
  softenTears(view.picture, view.revealed, soft(scene.back));
  const drawn = drawnOf(scene).flatMap((plate) => {
    const raster = rasters.plates.find((r) => r.id === plate.id);
    return raster ? [{ plate, raster }] : [];
  });
  let { revealedCount } = view;
  for (const { plate, raster } of drawn) {
    let room = plateRoom.get(raster.picture) as ViewBuffers<P> | undefined;
    if (!room) {
      room = viewBuffers(raster.picture);
      plateRoom.set(raster.picture, room);
    }
    const softPx = soft(plate);
    const geometry = geometryOf(scene, plate, eye, options);
    // Within its reach of a gap a softened px is the mean of as many neighbours: what opens at the edge of what is
    // drawn must lie both away.
    const reach = 2 * Math.ceil(softPx);
    const held = { left: raster.columns.left - reach, right: raster.columns.right + reach };
    const { columns } = synthesizeView(raster.picture, raster.depth, { ...geometry, columns: held }, room);
    softenTears(room.picture, room.revealed, softPx, columns);
    const revealed = { under: out.revealed, upper: room.revealed };
    revealedCount += over(out.picture, room.picture, { top: raster.top, columns, revealed });
  }
  return { ...view, revealedCount, depth };
}
