import { layoutOf } from '../../depth/planes/layout';
import { depthAt, type Plane } from '../../depth/planes/plane';
import { pictureOf, type Mask } from '../../raster/picture';
import { continueFill } from './continueFill';
import { planeFrame } from './planeFrame';

const width = 320;
const height = 240;
const count = width * height;
/** A floor seen from the side and from above: its tiles grow towards the viewer. */
const floor: Plane = { x: 0.0004, y: 0.003, at0: 0.05 };
const tile = (x: number, y: number): number => {
  const d = depthAt(floor, x, y) / depthAt(floor, 160, 120);
  const u = (x - 160) / d;
  const v = (y - 120) / d;
  return (Math.floor(u / 22) + Math.floor(v / 13)) % 2 === 0 ? 200 : 60;
};
/** With soft edges: the mean of 16 places of a px. */
const soft = (x: number, y: number): number => {
  let sum = 0;
  for (let n = 0; n < 16; n++) sum += tile(x + ((n & 3) - 1.5) / 4, y + ((n >> 2) - 1.5) / 4);
  return sum / 16;
};
const inHole = (x: number, y: number): boolean => (x - 160) ** 2 + (y - 125) ** 2 < 32 ** 2;
const values = Float32Array.from({ length: count }, (_, i) => soft(i % width, Math.floor(i / width)));
const hole: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: count }, (_, i) => (inHole(i % width, Math.floor(i / width)) ? 255 : 0)),
};
const depth = {
  width,
  height,
  data: Uint16Array.from({ length: count }, (_, i) =>
    hole.data[i] ? 65535 : 65535 * depthAt(floor, i % width, Math.floor(i / width)),
  ),
};

test('face on a floor repeats itself by whole tiles, and its places lead back', () => {
  const known = hole.data.map((v) => (v ? 0 : 1));
  const ground = {
    width,
    height,
    colours: Float32Array.from({ length: count * 3 }, (_, i) => values[Math.floor(i / 3)]),
    known,
    from: known,
    hole: known.map((v) => 1 - v),
  };
  const plain = Float32Array.from(depth.data, (v) => v / 65535);
  const layout = layoutOf({ width, height, depth: plain, known, hole: ground.hole });
  expect(layout.planes).toHaveLength(1);
  const frame = planeFrame(ground, plain, layout, 0)!;
  let off = 0;
  let many = 0;
  for (let y = 90; y < 160; y++)
    for (let x = 60; x < 110; x++) {
      const p = frame.place(x, y)!;
      const u = Math.round(p.x);
      const v = Math.round(p.y);
      const i = v * frame.ground.width + u;
      const j = i + 44;
      if (!frame.ground.known[i] || !frame.ground.known[j]) continue;
      many++;
      off += Math.abs(frame.ground.colours[i * 3] - frame.ground.colours[j * 3]);
    }
  // Two tiles on it is the same again but for what resampling blurs at edges; half a period on it would be 140 off.
  expect(many).toBeGreaterThan(1000);
  expect(off / many).toBeLessThan(12);
});

test('with its depth a tiled floor goes on as it is seen, without it does worse', () => {
  const data = Uint8Array.from({ length: count * 4 }, (_, k) => {
    if ((k & 3) === 3) return 255;
    return hole.data[k >> 2] ? 0 : Math.round(values[k >> 2]);
  });
  const picture = pictureOf({ width, height }, data, 'straight');
  const error = (filled: { readonly data: ArrayLike<number> }): number => {
    let sum = 0;
    let many = 0;
    for (let i = 0; i < count; i++)
      if (hole.data[i]) {
        sum += Math.abs(filled.data[i * 4] - values[i]);
        many++;
      }
    return sum / many;
  };
  const byPlanes = error(continueFill(picture, hole, { depth }));
  const byPicture = error(continueFill(picture, hole));
  expect(byPlanes).toBeLessThan(0.7 * byPicture);
  expect(byPlanes).toBeLessThan(25);
});
