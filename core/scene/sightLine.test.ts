import { AT_REST, type Pose } from '../camera/pose';
import { projectionOf, projectPoint } from '../camera/projection';
import { fromPlan, inPlan, sightLine } from './sightLine';
import type { SourceCamera } from '../camera/sourceCamera';

const CAMERA: SourceCamera = { focalPx: 900, principalPoint: { x: 499.5, y: 320 }, near: 2, far: 12 };

describe('a line of sight in the plan', () => {
  test('at rest it stands upright', () => {
    const { from, per } = sightLine(projectionOf(CAMERA, AT_REST), CAMERA, 'columns', 120);
    expect(from).toBeCloseTo(120, 9);
    expect(per).toBe(0);
  });

  test('everything that the moved camera sees at one place lies on it', () => {
    const pose: Pose = { position: [0.2, -0.1, 0.5], pan: 4, tilt: -3, roll: 5, zoom: 1.2 };
    const projection = projectionOf(CAMERA, pose);
    for (const [axis, seenAt] of [
      ['columns', 33.5],
      ['rows', 610],
    ] as const) {
      const { from, per } = sightLine(projection, CAMERA, axis, seenAt);
      for (const w of [0.02, 0.1, 0.4]) {
        const across = from + per * w;
        const source = axis === 'columns' ? { x: across, y: 320 } : { x: 499.5, y: across };
        const seen = projectPoint(projection, source, w)!;
        expect(axis === 'columns' ? seen.x : seen.y).toBeCloseTo(seenAt, 6);
      }
    }
  });

  test('a place goes into the plan and back', () => {
    // 3 m away, 0.5 m to the right: 150 px beside the middle; 1/3 lies at 0.6 between 1/12 and 1/2.
    const at = inPlan([0.5, 0.2, 3], CAMERA, 'columns');
    expect(at.x).toBeCloseTo(649.5, 9);
    expect(at.y).toBeCloseTo(0.6, 9);
    fromPlan(at, [0.5, 0.2, 3], CAMERA, 'columns').forEach((v, n) => {
      expect(v).toBeCloseTo([0.5, 0.2, 3][n], 9);
    });
    const side = inPlan([0.5, 0.2, 3], CAMERA, 'rows');
    expect(side.x).toBeCloseTo(320 - 60, 9);
    // Pushed farther, it stays on its ray.
    const [right, up, forward] = fromPlan({ x: side.x, y: 0 }, [0.5, 0.2, 3], CAMERA, 'rows');
    expect([right / forward, up / forward, forward]).toEqual([0.5 / 3, expect.closeTo(0.2 / 3, 9), 12]);
  });
});
