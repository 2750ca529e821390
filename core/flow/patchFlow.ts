import { kernels, layOut } from '../kernels/kernels';
import { sampledAt } from '../raster/sampledAt';
import { emptyFlow, type FlowField } from './flowField';
import type { Plane } from './plane';

/** Patches are so many px to a side, and lie so far apart. */
const PATCH = 8;
const STRIDE = 4;

/**
 * Flow by patches on a grid: each steps towards where it fits (at most twelve times, values and what is seen less
 * their means), from
 * where it begins and from what its neighbours found, left and above first, then right and below; each pixel then
 * takes the mean of the
 * patches over it, each by one over how far its colour is off there, at least 1.
 * @param coarser flow of the same frames at a smaller size, where patches begin @default they begin where they are
 */
export function patchFlow(from: Plane, to: Plane, coarser?: FlowField): FlowField {
  const { width, height } = from;
  const flow = emptyFlow(from);
  // Less than a patch and the px beside it cannot be looked for.
  if (Math.min(width, height) <= PATCH) return flow;
  const across = Math.floor((width - PATCH) / STRIDE) + 1;
  const down = Math.floor((height - PATCH) / STRIDE) + 1;
  const many = across * down;
  const count = width * height;
  const k = kernels();
  const plane = count * 4;
  const { at, buffer } = layOut([plane, plane + 32, 3 * plane, many * 8, many * 4, 1024], k);
  const [first, second, room, found, off, patch] = at;
  new Float32Array(buffer, first, count).set(from.data);
  new Float32Array(buffer, second, count).set(to.data);
  // The slopes lie where the sums of the fields come afterwards.
  slopesOf(from, new Float32Array(buffer, room, count), new Float32Array(buffer, room + plane, count));
  const places = new Float32Array(buffer, found, 2 * many).fill(0);
  if (coarser) beginAt(places, across, coarser, from);
  k.findFlowPatches(first, second, room, room + plane, width, height, across, down, found, off, patch);
  const sums = new Float32Array(buffer, room, 3 * count).fill(0);
  k.spreadFlowPatches(first, second, width, height, across, down, found, room);
  flow.dx.set(sums.subarray(0, count));
  flow.dy.set(sums.subarray(count, 2 * count));
  goOn(flow, (across - 1) * STRIDE + PATCH, (down - 1) * STRIDE + PATCH);
  return flow;
}

/** Where patches begin: what the coarser flow says at their middles. */
function beginAt(places: Float32Array, across: number, coarser: FlowField, { width, height }: Plane): void {
  const [sx, sy] = [coarser.width / width, coarser.height / height];
  const [dx, dy] = [
    { ...coarser, data: coarser.dx },
    { ...coarser, data: coarser.dy },
  ];
  for (let n = 0; 2 * n < places.length; n++) {
    const x = ((n % across) * STRIDE + PATCH / 2 + 0.5) * sx - 0.5;
    const y = (Math.floor(n / across) * STRIDE + PATCH / 2 + 0.5) * sy - 0.5;
    places[2 * n] = sampledAt(dx, x, y) / sx;
    places[2 * n + 1] = sampledAt(dy, x, y) / sy;
  }
}

/**
 * Patches end before the border where the size is no multiple of their distance: there the nearest covered px counts.
 */
function goOn({ width, height, dx, dy }: FlowField, right: number, bottom: number): void {
  for (const d of [dx, dy]) {
    for (let row = 0; row < bottom * width; row += width) d.fill(d[row + right - 1], row + right, row + width);
    for (let y = bottom; y < height; y++) d.copyWithin(y * width, (bottom - 1) * width, bottom * width);
  }
}

/** Central differences; at the border one-sided. */
function slopesOf({ width, height, data }: Plane, gx: Float32Array, gy: Float32Array): void {
  for (let y = 0, i = 0; y < height; y++) {
    const up = y > 0 ? width : 0;
    const down = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, i++) {
      const left = x > 0 ? 1 : 0;
      const right = x < width - 1 ? 1 : 0;
      gx[i] = (data[i + right] - data[i - left]) / Math.max(1, left + right);
      gy[i] = (data[i + down] - data[i - up]) / Math.max(1, (down + up) / width);
    }
  }
}
