import { eyePlace } from '../../camera/rig';
import { projectionOf, projectPoint } from '../../camera/projection';
import { inverseDistance } from '../../camera/sourceCamera';
import { drawnOf } from '../../scene/sceneOf';
import type { SceneAt } from '../../scene/sceneAt';

/** Where it is measured, shares of the frame both ways. */
const GRID = [0.05, 0.5, 0.95];

/** The least and the most parallax xR - xL that the scene's nearest and farthest have at a moment, px of the source. */
export function parallaxAt(scene: SceneAt): { readonly nearPx: number; readonly farPx: number } {
  const [left, right] = [-0.5, 0.5].map((eye) =>
    projectionOf(scene.camera, scene.pose, eyePlace(scene.rig, scene.camera, scene.pose, eye)),
  );
  const surfaces = [scene.back, ...drawnOf(scene)];
  const depths = [
    Math.max(...surfaces.map((s) => Math.max(s.near, s.far))),
    Math.min(...surfaces.map((s) => Math.min(s.near, s.far))),
  ];
  let nearPx = Infinity;
  let farPx = -Infinity;
  for (const depth of depths)
    for (const v of GRID)
      for (const u of GRID) {
        const at = { x: u * scene.width, y: v * scene.height };
        const w = inverseDistance(depth, scene.camera);
        const a = projectPoint(left, at, w);
        const b = projectPoint(right, at, w);
        if (!a || !b) continue;
        nearPx = Math.min(nearPx, b.x - a.x);
        farPx = Math.max(farPx, b.x - a.x);
      }
  return { nearPx, farPx };
}
