import { findPlanes } from './findPlanes';
import { layoutOf, NO_PLANE } from './layout';
import { depthAt, type HoledDepth, type Plane } from './plane';

const width = 320;
const height = 240;
const count = width * height;
/** A room: a floor, a wall to the left and one at the back, that meet in two lines. */
const floor: Plane = { x: 0, y: 0.004, at0: -0.4 };
const left: Plane = { x: -0.003, y: 0, at0: 0.5 };
const back: Plane = { x: 0, y: 0, at0: 0.2 };
const room = [floor, left, back];
/** The nearest wall of a room seen from inside is the one that is seen. */
const seen = (x: number, y: number): number =>
  room.reduce((best, p, n) => (depthAt(p, x, y) > depthAt(room[best], x, y) ? n : best), 0);

/** @param off noise of the depth, uniform to both sides */
function holed(off = 0): HoledDepth {
  const depth = new Float32Array(count);
  const hole = new Uint8Array(count);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      hole[i] = (x - 130) ** 2 + (y - 140) ** 2 < 60 ** 2 ? 1 : 0;
      const grain = (((i * 2654435761) >>> 8) & 1023) / 511.5 - 1;
      depth[i] = hole[i] ? 1 : depthAt(room[seen(x, y)], x, y) + off * grain;
    }
  return { width, height, depth, hole, known: hole.map((v) => 1 - v) };
}

test('planes of a room are found, exactly or through noise', () => {
  for (const [off, tolerance] of [
    [0, 1e-4],
    [0.002, 0.002],
  ]) {
    const planes = findPlanes(holed(off));
    for (const wall of room) {
      const nearest = Math.min(
        ...planes.map((p) =>
          Math.max(
            ...[
              [100, 100],
              [200, 100],
              [100, 200],
            ].map(([x, y]) => Math.abs(depthAt(p, x, y) - depthAt(wall, x, y))),
          ),
        ),
      );
      expect(nearest).toBeLessThan(tolerance);
    }
  }
});

test('a hole goes on with its planes, and they are parted by the lines where they meet', () => {
  const map = holed();
  const { planes, labels } = layoutOf(map);
  let wrong = 0;
  let far = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!map.hole[i]) continue;
      const truth = depthAt(room[seen(x, y)], x, y);
      const off = Math.abs(depthAt(planes[labels[i]], x, y) - truth);
      if (off > 1e-3) wrong++;
      if (off > 0.03) far++;
    }
  // Where three planes meet two borders cross, and squares of 8 px part what no single line does.
  expect(wrong / map.hole.reduce((a, v) => a + v, 0)).toBeLessThan(0.01);
  expect(far).toBe(0);
});

test('where nothing lies on a plane there is none', () => {
  const map = holed();
  // A plain product of the place would lie on planes.
  const depth = map.depth.map((_, i) => {
    let v = Math.imul(i ^ 0x9e3779b9, 0x85ebca6b);
    v = Math.imul(v ^ (v >>> 13), 0xc2b2ae35);
    return (((v ^ (v >>> 16)) >>> 8) & 1023) / 1023;
  });
  const { planes, labels } = layoutOf({ ...map, depth });
  expect(planes).toEqual([]);
  expect(labels.every((v) => v === NO_PLANE)).toBe(true);
});
