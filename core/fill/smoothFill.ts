/**
 * Fills the unknown values of a plane (or of `channels` planes interleaved) smoothly from their surroundings: a membrane, solved
 * from coarse to fine. Known values stay exactly as they are.
 *
 * Source: the membrane (Laplace's equation with the known values as its border); coarse to fine in place of a full multigrid.
 * @param values changed in place, channels interleaved
 * @param unknown 1 where to fill
 * @param sweeps relaxation at each size; the coarser ones have done the rest @default 16
 */
export function smoothFill(values: Float32Array, unknown: Uint8Array, width: number, height: number, channels: number, sweeps = 16): void {
  const list: number[] = [];
  for (let i = 0; i < unknown.length; i++) if (unknown[i]) list.push(i);
  if (list.length === 0 || list.length === unknown.length) return;
  if (width > 2 || height > 2) start(values, unknown, width, height, channels, sweeps, list);
  const omega = 1.7;
  for (let sweep = 0; sweep < sweeps; sweep++) {
    for (let n = 0; n < list.length; n++) {
      const i = list[sweep & 1 ? list.length - 1 - n : n], x = i % width;
      const left = x > 0 ? i - 1 : -1, right = x < width - 1 ? i + 1 : -1, up = i >= width ? i - width : -1, down = i + width < unknown.length ? i + width : -1;
      const count = (left >= 0 ? 1 : 0) + (right >= 0 ? 1 : 0) + (up >= 0 ? 1 : 0) + (down >= 0 ? 1 : 0);
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        if (left >= 0) sum += values[left * channels + c];
        if (right >= 0) sum += values[right * channels + c];
        if (up >= 0) sum += values[up * channels + c];
        if (down >= 0) sum += values[down * channels + c];
        const at = i * channels + c;
        values[at] += omega * (sum / count - values[at]);
      }
    }
  }
}

/** Solves the plane at half its size and takes that as the start. */
function start(values: Float32Array, unknown: Uint8Array, width: number, height: number, channels: number, sweeps: number, list: readonly number[]): void {
  const w = Math.ceil(width / 2), h = Math.ceil(height / 2);
  const half = new Float32Array(w * h * channels), open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++) {
      let known = 0;
      for (let v = 2 * y; v < Math.min(height, 2 * y + 2); v++) {
        for (let j = v * width + 2 * x; j < v * width + Math.min(width, 2 * x + 2); j++) {
          if (unknown[j]) continue;
          known++;
          for (let c = 0; c < channels; c++) half[i * channels + c] += values[j * channels + c];
        }
      }
      if (known === 0) open[i] = 1;
      else for (let c = 0; c < channels; c++) half[i * channels + c] /= known;
    }
  }
  smoothFill(half, open, w, h, channels, sweeps);
  for (const i of list) {
    const x = i % width, y = (i - x) / width;
    const u = Math.min(w - 1, Math.max(0, (x - 0.5) / 2)), v = Math.min(h - 1, Math.max(0, (y - 0.5) / 2));
    const x0 = Math.floor(u), y0 = Math.floor(v), x1 = Math.min(w - 1, x0 + 1), y1 = Math.min(h - 1, y0 + 1), fx = u - x0, fy = v - y0;
    for (let c = 0; c < channels; c++) {
      const at = (px: number, py: number): number => half[(py * w + px) * channels + c];
      values[i * channels + c] = (at(x0, y0) * (1 - fx) + at(x1, y0) * fx) * (1 - fy) + (at(x0, y1) * (1 - fx) + at(x1, y1) * fx) * fy;
    }
  }
}
