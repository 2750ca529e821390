import type { Mask } from '../raster/picture';
import { goOnDepth } from './goOnDepth';

const width = 320;
const height = 240;
const count = width * height;
/** A floor that meets a wall at row 120. */
const truth = (y: number): number => (y < 120 ? 13107 : 13107 + (y - 120) * 260);
const inHole = (x: number, y: number): boolean => x >= 110 && x < 210 && y >= 70 && y < 190;
const hole: Mask = {
  width,
  height,
  data: Uint8Array.from({ length: count }, (_, i) => (inHole(i % width, Math.floor(i / width)) ? 255 : 0)),
};

test('behind a thing the floor goes on to where the wall stands, to half a step of sixteen bits of its plane', () => {
  const data = Uint16Array.from({ length: count }, (_, i) => (hole.data[i] ? 20000 : truth(Math.floor(i / width))));
  const out = goOnDepth({ width, height, data }, hole);
  let off = 0;
  for (let i = 0; i < count; i++) off = Math.max(off, Math.abs(out.data[i] - truth(Math.floor(i / width))));
  // Single precision, and least squares over the tolerance of a plane.
  expect(off).toBeLessThanOrEqual(4);
});

test('where its surroundings lie on no plane it stays as it was', () => {
  const data = Uint16Array.from({ length: count }, (_, i) => {
    let v = Math.imul(i ^ 0x9e3779b9, 0x85ebca6b);
    v = Math.imul(v ^ (v >>> 13), 0xc2b2ae35);
    return (v ^ (v >>> 16)) & 0xffff;
  });
  expect(goOnDepth({ width, height, data }, hole).data).toEqual(data);
  expect(() => goOnDepth({ width, height, data }, { ...hole, width: 10 })).toThrow('The hole is 10');
});
