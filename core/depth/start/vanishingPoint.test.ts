import { seeded } from '@/tests/support/chance';
import { pictureOf, type Picture8 } from '../../raster/picture';
import { startLook } from './startLook';
import { straightEdges } from './straightEdges';
import { vanishingPoint } from './vanishingPoint';

const WIDTH = 480;
const HEIGHT = 320;
/** A picture with a little noise; grey by place, averaged over two by two so that edges fall between px. */
function picture(grey: (x: number, y: number) => number, noise = 4): Picture8 {
  const random = seeded(3);
  const data = new Uint8Array(WIDTH * HEIGHT * 4).fill(255);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += grey(x + ((k & 1) + 0.5) / 2, y + ((k >> 1) + 0.5) / 2);
      const v = sum / 4 + noise * (random() - 0.5);
      data.fill(Math.min(255, Math.max(0, v)), 4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 3);
    }
  return pictureOf({ width: WIDTH, height: HEIGHT }, data, 'straight');
}
const found = (p: Picture8) => vanishingPoint(startLook(p));

/** Boards of a floor, a ceiling and walls, all of which run to one place. */
const boards =
  (vx: number, vy: number) =>
  (x: number, y: number): number => {
    const [dx, dy] = [x - vx * WIDTH, y - vy * HEIGHT];
    // Where a ray through the place leaves a square box: boards are equally wide on each side of it.
    const side = Math.max(Math.abs(dx), Math.abs(dy));
    const along = (Math.abs(dx) > Math.abs(dy) ? dy : dx) / Math.max(1, side);
    return Math.floor(along * 4 + 20) % 2 === 0 ? 90 : 160;
  };

test.each([
  [0.5, 0.4],
  [0.3, 0.55],
  [0.62, 0.2],
])('boards that meet at (%d, %d) say so to a hundredth', (vx, vy) => {
  const at = found(picture(boards(vx, vy)))!;
  expect(Math.abs(at.x - vx)).toBeLessThan(0.01);
  expect(Math.abs(at.y - vy)).toBeLessThan(0.01);
  expect(at.agree).toBeGreaterThan(0.8);
});

test.each<[string, Picture8]>([
  ['grain alone', picture(() => 120, 90)],
  ['upright and level lines', picture((x, y) => ((Math.floor(x / 20) + Math.floor(y / 20)) % 2 === 0 ? 80 : 170))],
  ['lines that all run the same way', picture((x, y) => (Math.floor((x + 0.5 * y) / 20) % 2 === 0 ? 80 : 170))],
  ['a disc', picture((x, y) => (Math.hypot(x - 240, y - 160) < 90 ? 180 : 80))],
])('%s agree on nothing', (_name, p) => {
  expect(found(p)).toBeUndefined();
});

test('straight edges are where they were drawn', () => {
  // A band from the left lower corner upwards, 30 degrees.
  const slope = Math.tan(Math.PI / 6);
  const p = picture((x, y) => (Math.abs(y - (300 - slope * x)) < 25 ? 180 : 80), 0);
  const grey = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => p.data[4 * i]);
  const edges = straightEdges(grey, { width: WIDTH, height: HEIGHT }, 100);
  expect(edges).toHaveLength(2);
  for (const { x1, y1, x2, y2, length } of edges) {
    expect(Math.abs(Math.abs((y2 - y1) / (x2 - x1)) - slope)).toBeLessThan(0.01);
    expect(length).toBeGreaterThan(350);
    const off = Math.abs(Math.abs((y1 + y2) / 2 - (300 - (slope * (x1 + x2)) / 2)) - 25);
    expect(off).toBeLessThan(1);
  }
});
