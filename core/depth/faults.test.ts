import { pictureOf, type DepthMap } from '../raster/picture';
import { faultsOf } from './faults';
import { removeSpecks } from './specks';

const width = 160;
const height = 120;
/** A light thing before a dark ground, its left edge at column 60. */
const picture = pictureOf(
  { width, height },
  Uint8Array.from({ length: width * height * 4 }, (_, k) => (k % 4 === 3 || (k >> 2) % width >= 60 ? 220 : 40)),
  'straight',
);
const mapOf = (depth: (x: number, y: number) => number): DepthMap => ({
  width,
  height,
  data: Uint16Array.from({ length: width * height }, (_, i) => depth(i % width, Math.floor(i / width)) * 65535),
});
/** Depth that is used all through, with an edge at a column. */
const edgeAt = (column: number) => mapOf((x, y) => (x >= column ? 0.5 : 0) + 0.5 * (y / (height - 1)));
const kinds = (map: DepthMap): string[] => faultsOf(map, picture).map(({ kind }) => kind);

test('a depth edge on the picture’s is none; beside it, it is a halo as wide as that; far from any, it is astray', () => {
  expect(kinds(edgeAt(60))).toEqual([]);
  const [halo] = faultsOf(edgeAt(65), picture);
  expect(halo).toMatchObject({ kind: 'halo', much: 5 });
  expect(halo.at!.x).toBe(64);
  expect(kinds(edgeAt(100))).toEqual(['astray']);
});

test('specks are counted, found, and taken out', () => {
  const clean = edgeAt(60);
  const specked = { ...clean, data: clean.data.slice() };
  for (const [x, y] of [
    [100, 50],
    [101, 50],
    [30, 90],
  ])
    specked.data[y * width + x] += 9000;
  const [specks] = faultsOf(specked, picture).filter(({ kind }) => kind === 'specks');
  expect(specks).toMatchObject({ much: 3, at: { y: 50 } });
  const mended = removeSpecks(specked);
  for (let i = 0; i < mended.data.length; i++) expect(Math.abs(mended.data[i] - clean.data[i])).toBeLessThan(1000);
});

test('terraces and an empty range are said with their size', () => {
  const terraced = mapOf((x, y) => Math.round((x * 0.3 + y * 0.1) * 4) / 4 / 255);
  const found = faultsOf({ ...terraced, data: terraced.data.map((v) => Math.round(v / 257) * 257) }, picture);
  expect(found.map(({ kind }) => kind)).toContain('terraces');
  const [empty] = faultsOf(
    mapOf((_, y) => 0.5 * (y / (height - 1))),
    picture,
  ).filter(({ kind }) => kind === 'empty');
  expect(Math.abs(empty.much - 0.5)).toBeLessThan(0.01);
});
