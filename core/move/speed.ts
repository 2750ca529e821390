import { poseAt, type Move } from '../camera/move';
import { projectionOf, projectPoint } from '../camera/projection';
import { inverseDistance } from '../camera/sourceCamera';
import { drawnOf } from '../scene/sceneOf';
import type { Scene } from '../scene/sceneAt';

/** Where it is measured, shares of the frame both ways. */
const GRID = [0.1, 0.5, 0.9];

/** Fast panning judders above so much of the width a frame at 24 frames a second (common practice). */
export const JUDDER_WIDTH = 1 / 30;

/** How fast the nearest thing passes between one frame and the next, px of the source a frame, at the place where it is fastest. */
export function speedAt(scene: Scene, move: Move, frame: number): number {
  const nearest = Math.max(scene.back.near, scene.back.far, ...drawnOf(scene).map((p) => Math.max(p.near, p.far)));
  const w = inverseDistance(nearest, scene.camera);
  const [here, next] = [frame, Math.min(frame + 1, move.frames - 1)].map((f) =>
    projectionOf(scene.camera, poseAt(move, f)),
  );
  let most = 0;
  for (const v of GRID)
    for (const u of GRID) {
      const at = { x: u * scene.width, y: v * scene.height };
      const a = projectPoint(here, at, w);
      const b = projectPoint(next, at, w);
      if (a && b) most = Math.max(most, Math.hypot(b.x - a.x, b.y - a.y));
    }
  return most;
}
