import type { SceneFrame, Surface } from '../scene/sceneOf';
import { spanBudget } from '../stereo/parallax';
import type { ViewGeometry } from '../stereo/synthesizeView';

/** How one surface of a scene is seen from an eye, at a size. */
export function geometryOf(
  scene: SceneFrame,
  surface: Surface,
  eye: number,
  { scale = 1, holes = 'fill' }: { readonly scale?: number; readonly holes?: ViewGeometry['holes'] } = {},
): ViewGeometry {
  const { nearPx, farPx } = spanBudget(scene.budget, surface);
  return {
    budget: { nearPx: nearPx * scale, farPx: farPx * scale },
    sourceEye: scene.sourceEye,
    eye: scene.swapEyes ? -eye : eye,
    tearPx: Math.max(surface.tearPx * scale, Math.min(surface.tearPx, 1)),
    holes,
    edges: scene.partEdges ? 'matted' : 'grown',
  };
}
