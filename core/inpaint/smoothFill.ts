import { kernels, layOut } from '../kernels/kernels';
import { boundsOf } from '../raster/bounds';

/**
 * How strongly a pixel goes beyond its neighbours' mean on its way there: near the best for the short distances that
 * are left at each size.
 */
const OMEGA = 1.7;

/** The plane that is filled. */
export interface SmoothPlane {
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  /** Relaxation at each size; the coarser ones have done the rest. @default 16 */
  readonly sweeps?: number;
}

/**
 * Fills the unknown values of a plane (or of `channels` planes interleaved) smoothly from their surroundings: a membrane, solved
 * from coarse to fine. Known values stay exactly as they are.
 *
 * Source: the membrane (Laplace's equation with the known values as its border); coarse to fine in place of a full multigrid.
 * @param values changed in place, channels interleaved; four channels are as quick as one
 * @param unknown 1 where to fill
 */
export function smoothFill(values: Float32Array, unknown: Uint8Array, plane: SmoothPlane): void {
  const { width, height, channels, sweeps = 16 } = plane;
  // Beyond what borders on the unknown nothing matters.
  const box = boundsOf(width, height, (i) => unknown[i] === 1, 1);
  if (!box) return;
  const w = box.right - box.left;
  const h = box.bottom - box.top;
  const open = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const from = (box.top + y) * width + box.left;
    open.set(unknown.subarray(from, from + w), y * w);
  }
  if (!open.includes(0)) return;
  // Four channels travel together; what is left of the last four stays zero.
  for (let first = 0; first < channels; first += 4) {
    const many = Math.min(4, channels - first);
    const four = new Float32Array(open.length * 4);
    const each = (work: (inBox: number, inPlane: number) => void): void => {
      for (let y = 0, k = 0; y < h; y++)
        for (let x = 0, i = (box.top + y) * width + box.left; x < w; x++, k++, i++) work(k, i);
    };
    each((k, i) => {
      for (let c = 0; c < many; c++) four[k * 4 + c] = values[i * channels + first + c];
    });
    solve(four, open, { width: w, height: h, sweeps });
    each((k, i) => {
      if (open[k]) for (let c = 0; c < many; c++) values[i * channels + first + c] = four[k * 4 + c];
    });
  }
}

type FourPlanes = Required<Omit<SmoothPlane, 'channels'>>;

function solve(values: Float32Array, unknown: Uint8Array, plane: FourPlanes): void {
  const { width, height, sweeps } = plane;
  if (width > 2 || height > 2) start(values, unknown, plane);
  let count = 0;
  for (let i = 0; i < unknown.length; i++) count += unknown[i];
  const k = kernels();
  const {
    at: [valuesAt, listAt],
    buffer,
  } = layOut([values.byteLength, count * 4], k);
  const held = new Float32Array(buffer, valuesAt, values.length);
  const list = new Int32Array(buffer, listAt, count);
  held.set(values);
  for (let y = 0, i = 0, n = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++)
      if (unknown[i]) list[n++] = 2 * i + (x === 0 || y === 0 || x === width - 1 || y === height - 1 ? 1 : 0);
  }
  k.relaxPlane(valuesAt, listAt, count, width, height, sweeps, OMEGA);
  values.set(held);
}

/** Solves the plane at half its size and takes that as the start. */
function start(values: Float32Array, unknown: Uint8Array, { width, height, sweeps }: FourPlanes): void {
  const w = Math.ceil(width / 2);
  const h = Math.ceil(height / 2);
  const half = new Float32Array(w * h * 4);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++) {
      let known = 0;
      let a = 0;
      let b = 0;
      let c = 0;
      let d = 0;
      for (let v = 2 * y; v < Math.min(height, 2 * y + 2); v++) {
        for (let j = v * width + 2 * x; j < v * width + Math.min(width, 2 * x + 2); j++) {
          if (unknown[j]) continue;
          known++;
          a += values[j * 4];
          b += values[j * 4 + 1];
          c += values[j * 4 + 2];
          d += values[j * 4 + 3];
        }
      }
      if (known === 0) {
        open[i] = 1;
        continue;
      }
      half[i * 4] = a / known;
      half[i * 4 + 1] = b / known;
      half[i * 4 + 2] = c / known;
      half[i * 4 + 3] = d / known;
    }
  }
  solve(half, open, { width: w, height: h, sweeps });
  for (let y = 0, i = 0; y < height; y++) {
    const v = Math.min(h - 1, Math.max(0, (y - 0.5) / 2));
    const y0 = Math.floor(v);
    const y1 = Math.min(h - 1, y0 + 1);
    const fy = v - y0;
    for (let x = 0; x < width; x++, i++) {
      if (!unknown[i]) continue;
      const u = Math.min(w - 1, Math.max(0, (x - 0.5) / 2));
      const x0 = Math.floor(u);
      const x1 = Math.min(w - 1, x0 + 1);
      const fx = u - x0;
      const p = (y0 * w + x0) * 4;
      const q = (y0 * w + x1) * 4;
      const r = (y1 * w + x0) * 4;
      const s = (y1 * w + x1) * 4;
      for (let c = 0; c < 4; c++)
        values[i * 4 + c] =
          (half[p + c] * (1 - fx) + half[q + c] * fx) * (1 - fy) + (half[r + c] * (1 - fx) + half[s + c] * fx) * fy;
    }
  }
}
