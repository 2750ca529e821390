import { findPlanes } from './findPlanes';
import { CELL, labelPlanes, type PlaneLabels } from './labelPlanes';
import { depthAt, type HoledDepth, type Plane } from './plane';

/** How a hole's surroundings go on into it: on which plane each place lies. */
export interface Layout {
  readonly planes: readonly Plane[];
  /** Index of the plane, a place; NO_PLANE where there is none. */
  readonly labels: Uint8Array;
}

export const NO_PLANE = 255;
/** Planes meet where their depths are so near: there the line where they are equal parts them. */
const MEET = 0.03;
/** A border of the grid lies so many squares off at most. */
const SNAP = 3;

/** The layout of a picture with a hole; without planes where its surroundings lie on none. */
export function layoutOf(holed: HoledDepth): Layout {
  const { width, height } = holed;
  const planes = findPlanes(holed);
  const labels = new Uint8Array(width * height).fill(NO_PLANE);
  if (planes.length === 0) return { planes, labels };
  const grid = labelPlanes(holed, planes);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      labels[i] = grid.labels[Math.floor(y / CELL) * grid.width + Math.floor(x / CELL)];
  snap(labels, { holed, grid, planes });
  return { planes, labels };
}

interface Snapping {
  readonly holed: HoledDepth;
  readonly grid: PlaneLabels;
  readonly planes: readonly Plane[];
}

/**
 * Along borders of the grid within the hole, planes that meet there are parted by the line where they meet. Which of them is in
 * front on its own side (a corner that stands out or goes in) is told by the squares around.
 */
function snap(labels: Uint8Array, { holed: { width, height, hole }, grid, planes }: Snapping): void {
  const { width: w, height: h } = grid;
  const many = planes.length;
  // Votes of border squares, a pair of planes: is a plane in front on its own side?
  const front = new Int32Array(many * many);
  const near = new Map<number, Uint8Array>();
  for (let cy = 0; cy < h; cy++)
    for (let cx = 0; cx < w; cx++)
      for (const [nx, ny] of [
        [cx + 1, cy],
        [cx, cy + 1],
      ]) {
        if (nx >= w || ny >= h) continue;
        const a = grid.labels[cy * w + cx];
        const b = grid.labels[ny * w + nx];
        if (a === b) continue;
        const x = ((cx + nx + 1) / 2) * CELL;
        const y = ((cy + ny + 1) / 2) * CELL;
        const apart = depthAt(planes[a], x, y) - depthAt(planes[b], x, y);
        if (Math.abs(apart) > MEET) continue;
        const pair = Math.min(a, b) * many + Math.max(a, b);
        vote(pair, Math.min(a, b), Math.max(a, b), [cx, cy, nx, ny]);
      }
  for (const [pair, cells] of near) {
    const a = Math.floor(pair / many);
    const b = pair % many;
    const sign = Math.sign(front[pair]);
    if (sign === 0) continue;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!hole[i] || (labels[i] !== a && labels[i] !== b)) continue;
        if (!cells[Math.floor(y / CELL) * w + Math.floor(x / CELL)]) continue;
        const apart = depthAt(planes[a], x, y) - depthAt(planes[b], x, y);
        labels[i] = apart * sign >= 0 ? a : b;
      }
  }

  function vote(pair: number, a: number, b: number, [cx, cy, nx, ny]: number[]): void {
    let cells = near.get(pair);
    if (!cells) near.set(pair, (cells = new Uint8Array(w * h)));
    for (let v = Math.max(0, cy - SNAP); v <= Math.min(h - 1, ny + SNAP); v++)
      for (let u = Math.max(0, cx - SNAP); u <= Math.min(w - 1, nx + SNAP); u++) {
        cells[v * w + u] = 1;
        const label = grid.labels[v * w + u];
        if (label !== a && label !== b) continue;
        const x = (u + 0.5) * CELL;
        const y = (v + 0.5) * CELL;
        const apart = depthAt(planes[a], x, y) - depthAt(planes[b], x, y);
        front[pair] += (label === a ? 1 : -1) * Math.sign(apart);
      }
  }
}
