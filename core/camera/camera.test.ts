import { aimedAt } from './aim';
import { readCamera } from './cameraFile';
import { reversedKeys, spreadKeys, stretchedKeys, withKey, withKeyAt, withoutKey } from './editKeys';
import { poseAt, type StanceKey } from './move';
import { SmoothPath } from './path';
import { AT_REST, STANDING, type Pose, type Vector } from './pose';
import { fromRaster, projectionOf, projectPoint } from './projection';
import { READY_MOVES, type MoveRoom, type ReadyMove } from './ready';
import { eyePlace, type Rig } from './rig';
import { fieldOfFocal, focalOfField, focalOfMm, inverseDistance, mmOfFocal, type SourceCamera } from './sourceCamera';

const camera: SourceCamera = { focalPx: 800, principalPoint: { x: 400, y: 250 }, near: 2, far: 20 };
const key = (frame: number, position: Vector, more: Partial<StanceKey> = {}): StanceKey => ({
  frame,
  ease: 'linear',
  value: { ...STANDING, position },
  ...more,
});

describe('projection', () => {
  const at = (pose: Pose, x = 400, y = 250, w = 0.25) => projectPoint(projectionOf(camera, pose), { x, y }, w)!;
  test('at rest every pixel stays where it is, whatever its depth', () => {
    for (const w of [0, 0.05, 0.5]) expect(at(AT_REST, 123, 45, w)).toMatchObject({ x: 123, y: 45 });
  });
  test('a camera that goes right or up sees things go left or down, by f w a unit', () => {
    expect(at({ ...AT_REST, position: [0.1, 0, 0] }).x).toBeCloseTo(400 - 800 * 0.25 * 0.1, 9);
    expect(at({ ...AT_REST, position: [0, 0.1, 0] }).y).toBeCloseTo(250 + 800 * 0.25 * 0.1, 9);
  });
  test('going forward enlarges by 1 / (1 - way / distance)', () => {
    expect(at({ ...AT_REST, position: [0, 0, 1] }, 500).x).toBeCloseTo(400 + 100 / (1 - 0.25), 9);
  });
  test('panning right moves all left by f tan, tilting up moves all down, rolling clockwise turns all the other way', () => {
    const ten = Math.tan(Math.PI / 18);
    expect(at({ ...AT_REST, pan: 10 }).x).toBeCloseTo(400 - 800 * ten, 9);
    expect(at({ ...AT_REST, tilt: 10 }).y).toBeCloseTo(250 + 800 * ten, 9);
    // What lay at the right lies above: a quarter of a turn against the clock.
    expect(at({ ...AT_REST, roll: 90 }, 500)).toMatchObject({ x: expect.closeTo(400, 9), y: expect.closeTo(150, 9) });
  });
  test('a smaller raster of the source lands in the same places', () => {
    const whole = projectionOf(camera, { ...AT_REST, position: [0.1, 0.02, 0.3], pan: 3 });
    // Pixel (10, 20) of a raster at half size, cut out at 30, 40: its middle lies at source px 50.5, 80.5.
    const half = projectPoint(fromRaster(whole, { left: 30, top: 40, scale: 0.5 }), { x: 10, y: 20 }, 0.3)!;
    const full = projectPoint(whole, { x: 30 + 20.5, y: 40 + 40.5 }, 0.3)!;
    expect(half.x).toBeCloseTo(full.x, 9);
    expect(half.y).toBeCloseTo(full.y, 9);
  });
});

describe('the eyes ride on the camera', () => {
  const rig = (base: Rig['base'], sourceEye: Rig['sourceEye'] = 'centre'): Rig => ({
    budget: { nearPx: -12, farPx: 18 },
    sourceEye,
    swapEyes: false,
    base,
  });
  const parallax = (r: Rig, pose: Pose, depth: number): number => {
    const [left, right] = [-0.5, 0.5].map(
      (eye) =>
        projectPoint(
          projectionOf(camera, pose, eyePlace(r, camera, pose, eye)),
          { x: 400, y: 250 },
          inverseDistance(depth, camera),
        )!.x,
    );
    return right - left;
  };
  test('at rest with exactly the budget, whichever eye the source is', () => {
    for (const sourceEye of ['left', 'centre', 'right'] as const)
      for (const [depth, px] of [
        [1, -12],
        [0, 18],
        [0.5, 3],
      ])
        expect(parallax(rig('stays', sourceEye), AT_REST, depth)).toBeCloseTo(px, 9);
  });
  const closer: Pose = { ...AT_REST, position: [0, 0, 0.8] };
  test('a base that stays gives what is nearer more; one that follows keeps the budget', () => {
    expect(parallax(rig('stays'), closer, 1)).toBeLessThan(-20);
    expect(parallax(rig('follows'), closer, 1)).toBeCloseTo(-12, 9);
    expect(parallax(rig('follows'), closer, 0)).toBeCloseTo(18, 9);
    expect(parallax(rig('follows'), { ...closer, zoom: 1.4 }, 1)).toBeCloseTo(-12, 9);
  });
});

test('focal lengths in degrees, mm of a 36 mm frame and px', () => {
  // 90 degrees across: half the width. A lens of 36 mm is as long as the frame is wide.
  expect(focalOfField(90, 1000)).toBeCloseTo(500, 9);
  expect(focalOfMm(36, 1000)).toBe(1000);
  expect(mmOfFocal(focalOfMm(28, 1600), 1600)).toBeCloseTo(28, 9);
  expect(fieldOfFocal(focalOfField(50, 1600), 1600)).toBeCloseTo(50, 9);
});

describe('paths', () => {
  test('go through their places; between places in a row at even distances they go straight and evenly', () => {
    const path = new SmoothPath([0, 1, 2, 3].map((n): Vector => [n, 2 * n, 0]));
    expect(path.at(1, 0.25)[0]).toBeCloseTo(1.25, 4);
    expect(path.at(2, 1)).toEqual([3, 6, 0]);
  });
  test('centripetal Catmull-Rom as in Yuksel, Schaefer and Keyser: where the curve is known', () => {
    // Four corners of a square: knots at equal distances, the uniform curve, whose middle is (-p0 + 9 p1 + 9 p2 - p3) / 16.
    const path = new SmoothPath([
      [0, 0, 0],
      [0, 1, 0],
      [1, 1, 0],
      [1, 0, 0],
    ]);
    const [x, y] = path.at(1, 0.5);
    expect(x).toBeCloseTo(0.5, 6);
    expect(y).toBeCloseTo((-0 + 9 + 9 - 0) / 16, 4);
  });
  test('equal shares of a piece are equally long', () => {
    const path = new SmoothPath([
      [0, 0, 0],
      [1, 0.2, 0],
      [1.3, 2, 0.5],
      [4, 2, 0],
    ]);
    const steps = Array.from({ length: 40 }, (_, n) => {
      const [a, b] = [path.at(1, n / 40), path.at(1, (n + 1) / 40)];
      return Math.hypot(...a.map((v, i) => v - b[i]));
    });
    expect(Math.max(...steps) / Math.min(...steps)).toBeLessThan(1.01);
  });
  test('one speed all along, over keys at odd frames', () => {
    const keys = [key(0, [0, 0, 0]), key(3, [1, 0, 0]), key(20, [3, 0, 0]), key(40, [3.5, 0, 0])];
    const at = (frame: number): number => poseAt({ keys, path: 'straight', pace: 'even' }, frame).position[0];
    for (const frame of [0, 7, 13, 29, 40]) expect(at(frame)).toBeCloseTo((3.5 * frame) / 40, 9);
  });
});

test('one speed goes on past two keys at one place', () => {
  const keys = [key(0, [0, 0, 0]), key(10, [1, 0, 0]), key(20, [1, 0, 0]), key(40, [2, 0, 0])];
  for (const path of ['straight', 'smooth'] as const)
    for (const frame of [0, 10, 20, 30, 40])
      expect(poseAt({ keys, path, pace: 'even' }, frame).position[0]).toBeCloseTo(frame / 20, 2);
});

describe('aim', () => {
  test('keeps its place in the picture while the camera moves', () => {
    const aim: Vector = [0.7, -0.4, 9];
    const there = (pose: Pose) => {
      const [x, y] = [400 + (800 * aim[0]) / aim[2], 250 - (800 * aim[1]) / aim[2]];
      return projectPoint(projectionOf(camera, pose), { x, y }, 1 / aim[2])!;
    };
    const rest = there(AT_REST);
    const moved = there(aimedAt({ ...STANDING, position: [0, 0, 1.5], aim: [0, 0, 9] }));
    expect(aimedAt({ ...STANDING, aim })).toMatchObject({ pan: 0, tilt: 0 });
    expect(moved.x).not.toBeCloseTo(rest.x, 1);
    const middle = aimedAt({ ...STANDING, position: [0.5, 0.3, 0.2], aim: [0, 0, 9] });
    const seen = projectPoint(projectionOf(camera, middle), { x: 400, y: 250 }, 1 / 9)!;
    expect(seen.x).toBeCloseTo(400, 6);
    expect(seen.y).toBeCloseTo(250, 6);
  });
});

describe('ready moves', () => {
  const room: MoveRoom = { camera, width: 801, height: 501, frames: 121, depth: 0.4 };
  test.each(READY_MOVES.map((ready) => [ready.kind, ready] as [string, ReadyMove]))(
    '%s leaves ordinary keys behind, none at strength 0',
    (_, ready) => {
      const keys = ready.keys(room, 1);
      expect(keys.length).toBeGreaterThan(1);
      expect(keys[0].frame).toBe(0);
      expect(keys[keys.length - 1].frame).toBe(120);
      for (let n = 1; n < keys.length; n++) expect(keys[n].frame).toBeGreaterThan(keys[n - 1].frame);
      const still = ready.keys(room, 0);
      for (const { value } of still)
        expect(aimedAt(value)).toMatchObject({
          position: [expect.closeTo(0, 9), expect.closeTo(0, 9), expect.closeTo(0, 9)] as unknown,
          zoom: expect.closeTo(1, 9),
          pan: expect.closeTo(0, 9),
        });
    },
  );
  const find = (kind: string) => READY_MOVES.find((r) => r.kind === kind)!.keys(room, 1);
  test('opposite zoom keeps the size of what is chosen', () => {
    const keys = find('opposite-zoom');
    const w = inverseDistance(room.depth, camera);
    for (const frame of [0, 30, 77, 120]) {
      const pose = poseAt({ keys, path: 'straight', pace: 'keys' }, frame);
      const a = projectPoint(projectionOf(camera, pose), { x: 500, y: 250 }, w)!;
      expect(a.x - 400).toBeCloseTo(100, 6);
    }
  });
  test('a slide and a rise keep the frame filled, each along its own side', () => {
    for (const [kind, corner] of [
      ['slide', { x: 800, y: 250 }],
      ['rise', { x: 400, y: 0 }],
    ] as const)
      for (const { value } of find(kind))
        for (const depth of [0, 1]) {
          const at = { slide: [{ ...corner, x: 0 }, corner], rise: [corner, { ...corner, y: 500 }] }[kind];
          const [low, high] = at.map((p) =>
            projectPoint(projectionOf(camera, aimedAt(value)), p, inverseDistance(depth, camera))!,
          );
          expect(kind === 'slide' ? low.x : low.y).toBeLessThan(1.5);
          expect(kind === 'slide' ? high.x : high.y).toBeGreaterThan(kind === 'slide' ? 798.5 : 498.5);
        }
  });
  test('an arc stays as far from its aim as it was', () => {
    const distance = 1 / inverseDistance(room.depth, camera);
    for (const { value } of find('arc'))
      expect(Math.hypot(value.position[0], value.position[2] - distance)).toBeCloseTo(distance, 9);
  });
  test('a slide moves the nearest against the farthest by a twentieth of the width', () => {
    const [from, to] = find('slide').map(({ value }) => ({ ...AT_REST, position: value.position }));
    const shift = (depth: number): number =>
      [from, to]
        .map((pose) => projectPoint(projectionOf(camera, pose), { x: 400, y: 250 }, inverseDistance(depth, camera))!.x)
        .reduce((a, b) => a - b);
    expect(shift(1) - shift(0)).toBeCloseTo(0.05 * 801, 6);
  });
});

describe('keys by hand', () => {
  test('one pulled along spreads those before it, and pushes those after it on', () => {
    const four = [0, 10, 20, 30].map((frame) => key(frame, [0, 0, 0]));
    const at = (index: number, frame: number, frames = 100): number[] =>
      spreadKeys(four, index, frame, frames).map((k) => k.frame);
    expect(at(3, 60)).toEqual([0, 20, 40, 60]);
    expect(at(2, 40)).toEqual([0, 20, 40, 50]);
    expect(at(2, 10)).toEqual([0, 5, 10, 20]);
    // The first one is pulled from the last.
    expect(at(0, 15)).toEqual([15, 20, 25, 30]);
    // As far as there is room, each on a frame of its own.
    expect(at(3, 1)).toEqual([0, 1, 2, 3]);
    expect(at(1, 99, 40)).toEqual([0, 37, 38, 39]);
    expect(spreadKeys([key(4, [0, 0, 0])], 0, 9, 20).map((k) => k.frame)).toEqual([9]);
  });
  const keys = [key(0, [0, 0, 0]), key(10, [1, 0, 0]), key(30, [2, 0, 0])];
  const frames = (list: readonly StanceKey[]): number[] => list.map((k) => k.frame);
  test('are set, moved between their neighbours, taken off', () => {
    expect(frames(withKey(keys, key(5, [9, 9, 9])))).toEqual([0, 5, 10, 30]);
    expect(withKey(keys, key(10, [7, 0, 0]))[1].value.position).toEqual([7, 0, 0]);
    expect(frames(withKeyAt(keys, 1, 99, 40))).toEqual([0, 29, 30]);
    expect(frames(withKeyAt(keys, 2, 99, 40))).toEqual([0, 10, 39]);
    expect(frames(withoutKey(keys, 1))).toEqual([0, 30]);
    expect(withoutKey([keys[0]], 0)).toHaveLength(1);
  });
  test('are stretched over other lengths, and none falls on another', () => {
    expect(frames(stretchedKeys(keys, 31, 61))).toEqual([0, 20, 60]);
    expect(frames(stretchedKeys([key(0, [0, 0, 0]), key(1, [1, 0, 0]), key(2, [2, 0, 0])], 120, 12))).toEqual([
      0, 1, 2,
    ]);
  });
  test('run backwards: the same way in the other direction', () => {
    const eased = keys.map((k, n): StanceKey => (n === 0 ? { ...k, ease: [0.1, 0.2, 0.3, 0.9] } : k));
    const move = { path: 'straight', pace: 'keys' } as const;
    const back = reversedKeys(eased, 31);
    for (const frame of [0, 3, 10, 22, 30])
      expect(poseAt({ ...move, keys: back }, 30 - frame).position[0]).toBeCloseTo(
        poseAt({ ...move, keys: eased }, frame).position[0],
        9,
      );
  });
});

describe('camera files', () => {
  const file = {
    version: 1,
    fps: 24,
    frames: 48,
    focalPx: 1450,
    principalPoint: [799.5, 334.5],
    near: 1.15,
    far: null,
    keys: [{ frame: 0, position: [0, 0, 0], pan: 0, tilt: 0, roll: 0, zoom: 1, ease: 'linear' }],
  };
  const read = (part: object) =>
    readCamera(JSON.stringify({ ...file, ...part }), 'camera.json', { width: 1600, height: 1000 });
  test('are read; the principal point is the middle where none is given', () => {
    expect(read({}).camera).toEqual({
      focalPx: 1450,
      principalPoint: { x: 799.5, y: 334.5 },
      near: 1.15,
      far: Infinity,
    });
    expect(read({ principalPoint: undefined, far: 9 }).camera).toMatchObject({
      principalPoint: { x: 799.5, y: 499.5 },
      far: 9,
    });
    expect(poseAt(read({ keys: [{ frame: 3, pan: 5 }] }).move, 40)).toEqual({ ...AT_REST, pan: 5 });
  });
  test.each([
    [{ version: 2 }, 'version'],
    [{ fps: 8 }, 'fps'],
    [{ frames: 0 }, 'frames'],
    [{ focalPx: -1 }, 'focalPx'],
    [{ principalPoint: [1] }, 'principalPoint'],
    [{ near: 0 }, 'near'],
    [{ near: 5, far: 4 }, 'far'],
    [{ keys: [] }, 'keys'],
    [{ keys: [{ frame: 0, zoom: 0 }] }, 'keys[0].zoom'],
    [{ keys: [{ frame: 0 }, { frame: 5, position: [1, 2] }] }, 'keys[1].position'],
    [{ keys: [{ frame: 0, ease: 'bouncy' }] }, 'keys[0].ease'],
    [{ keys: [{ frame: 4 }, { frame: 4 }] }, 'keys[1].frame'],
    [{ keys: [{ frame: 0, yaw: 3 }] }, 'keys[0].yaw'],
    [{ lens: 50 }, 'lens'],
  ])('%j is refused by the name of the field', (part, field) => {
    expect(() => read(part)).toThrow(`camera.json: ${field}`);
  });
  test('what is no JSON is said to be none', () => {
    expect(() => readCamera('{ "version": 1,', 'camera.json', { width: 4, height: 3 })).toThrow(
      'camera.json is no JSON',
    );
  });
});
