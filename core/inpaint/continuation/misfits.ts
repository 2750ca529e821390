import { gaussianWeights } from '../../raster/gaussian';
import { smoothFill } from '../smoothFill';
import { blurred, type Ground } from './ground';
import type { Offset } from './offsets';

/** Over so wide a window, px. */
const SIGMA = 14;
/** Of each cell so many places across and down are asked; that is enough. */
const ASKED = 3;
/** Where an offset reaches nothing it is not told how it fits. */
const UNTOLD = -1;

/** How well offsets fit, on a coarser grid. */
export interface Misfits {
  readonly width: number;
  readonly height: number;
  /**
   * Values a cell: logarithm of the mean squared difference, and, where any is made good, by how much red, green and blue are
   * to be shifted.
   */
  readonly channels: 1 | 4;
  /** By cell, then channel, then offset: votes ask a cell for all offsets at once. */
  readonly values: Float32Array;
}

export interface Fitting {
  /** Of the grid. */
  readonly factor: number;
  /** How much of a mean difference is forgiven, 0 to 1: it is made good instead (other light on the same ground). */
  readonly forgiven: number;
  readonly onProgress?: (share: number) => void;
}

/**
 * How badly each offset fits: at known places, at full size; spread from there by the membrane to where that is not told.
 */
export function misfitsOf(ground: Ground, offsets: readonly Offset[], fitting: Fitting): Misfits {
  const { factor, forgiven, onProgress } = fitting;
  const { width, height, known } = ground;
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const stride = Math.max(1, Math.round(factor / ASKED));
  /** Runs of known places that are asked: row, first column, the one behind the last. */
  const places: number[] = [];
  /** 1 where something is known. */
  const seen = new Uint8Array(w * h);
  for (let y = 0; y < height; y += stride)
    for (let x = 0, i = y * width; x < width; x += stride, i += stride) {
      if (!known[i]) continue;
      seen[Math.floor(y / factor) * w + Math.floor(x / factor)] = 1;
      const last = places.length - 1;
      if (last > 0 && places[last - 2] === y && places[last] === x) places[last] += stride;
      else places.push(y, x, x + stride);
    }
  const grid: Grid = {
    factor,
    stride,
    forgiven,
    w,
    h,
    seen,
    runs: Int32Array.from(places),
    weights: gaussianWeights(SIGMA / factor),
  };
  const channels = forgiven > 0 ? 4 : 1;
  const many = offsets.length;
  const values = new Float32Array(w * h * channels * many);
  offsets.forEach((offset, n) => {
    onProgress?.(n / many);
    const plane = fitOf(ground, offset, grid);
    const untold = new Uint8Array(w * h);
    for (let i = 0; i < untold.length; i++) untold[i] = seen[i] && plane[i * channels] !== UNTOLD ? 0 : 1;
    smoothFill(plane, untold, { width: w, height: h, channels, sweeps: 8 });
    for (let i = 0, to = n; i < plane.length; i++, to += many) values[to] = plane[i];
  });
  return { width: w, height: h, channels, values };
}

interface Grid {
  readonly factor: number;
  /** Every so manieth place is asked, both ways. */
  readonly stride: number;
  readonly forgiven: number;
  readonly w: number;
  readonly h: number;
  readonly seen: Uint8Array;
  readonly runs: Int32Array;
  readonly weights: Float32Array;
}

/** How an offset fits where that can be told. */
function fitOf({ width, height, colours, from }: Ground, { dx, dy }: Offset, grid: Grid): Float32Array {
  const { factor, stride, forgiven, w, h, seen, runs, weights } = grid;
  const cells = w * h;
  const counts = new Float32Array(cells);
  const squares = new Float32Array(cells);
  const red = new Float32Array(cells);
  const green = new Float32Array(cells);
  const blue = new Float32Array(cells);
  for (let n = 0; n < runs.length; n += 3) {
    const y = runs[n];
    const v = y + dy;
    if (v < 0 || v >= height) continue;
    const end = Math.min(runs[n + 2], width - dx);
    const row = Math.floor(y / factor) * w;
    const step = dy * width + dx;
    const first = Math.ceil(Math.max(runs[n + 1], -dx) / stride) * stride;
    for (let x = first, i = y * width + x; x < end; x += stride, i += stride) {
      if (from[i + step] === 0) continue;
      const k = i * 3;
      const l = k + step * 3;
      const r = colours[k] - colours[l];
      const g = colours[k + 1] - colours[l + 1];
      const b = colours[k + 2] - colours[l + 2];
      const cell = row + ((x / factor) | 0);
      squares[cell] += r * r + g * g + b * b;
      red[cell] += r;
      green[cell] += g;
      blue[cell] += b;
      counts[cell]++;
    }
  }
  const wide = (plane: Float32Array): Float32Array => blurred(plane, w, h, weights);
  const many = wide(counts);
  const sums = wide(squares);
  const means = forgiven > 0 ? [red, green, blue].map(wide) : [];
  const made = 1 - (1 - forgiven) ** 2;
  const channels = forgiven > 0 ? 4 : 1;
  const out = new Float32Array(cells * channels);
  // Where less than a tenth of a cell's places could be told, nothing was.
  const least = (0.1 * factor * factor) / stride ** 2;
  for (let i = 0; i < cells; i++) {
    if (!seen[i]) continue;
    if (counts[i] === 0 || many[i] <= least) {
      out[i * channels] = UNTOLD;
      continue;
    }
    let misfit = sums[i] / (3 * many[i]);
    for (let c = 0; c < means.length; c++) {
      const mean = means[c][i] / many[i];
      misfit -= (made * mean * mean) / 3;
      out[i * channels + 1 + c] = forgiven * mean;
    }
    out[i * channels] = Math.log(Math.max(0, misfit) + 1);
  }
  return out;
}
