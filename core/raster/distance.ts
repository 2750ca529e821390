import type { Mask } from './picture';

/**
 * Exact Euclidean distance from every pixel's centre to the nearest pixel that is out (value below 128), px; 0 for those
 * themselves, Infinity where nothing is out.
 *
 * Source: Felzenszwalb and Huttenlocher, "Distance transforms of sampled functions", Theory of Computing 8, 2012.
 * @param invert measure to the nearest pixel that is in instead
 */
export function distanceTo({ width, height, data }: Mask, invert = false): Float32Array {
  const out = new Float32Array(width * height);
  // Down the columns first: there the distance is a count.
  const far = width + height;
  for (let x = 0; x < width; x++) {
    let run = far;
    for (let i = x; i < out.length; i += width) {
      run = data[i] >= 128 === invert ? 0 : run + 1;
      out[i] = run;
    }
    run = far;
    for (let i = out.length - width + x; i >= 0; i -= width) {
      run = data[i] >= 128 === invert ? 0 : run + 1;
      if (run < out[i]) out[i] = run;
    }
  }
  const column = new Float64Array(width);
  const apex = new Int32Array(width);
  const edge = new Float64Array(width + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let k = -1;
    for (let x = 0; x < width; x++) {
      const d = out[row + x];
      if (d >= far) continue;
      column[x] = d * d;
      if (k < 0) {
        k = 0;
        apex[0] = x;
        edge[0] = -Infinity;
        continue;
      }
      let meets: number;
      do {
        const v = apex[k];
        meets = (column[x] + x * x - column[v] - v * v) / (2 * (x - v));
      } while (meets <= edge[k] && --k >= 0);
      k++;
      apex[k] = x;
      edge[k] = k === 0 ? -Infinity : meets;
    }
    if (k < 0) {
      out.fill(Infinity, row, row + width);
      continue;
    }
    for (let x = 0, j = 0; x < width; x++) {
      while (j < k && edge[j + 1] < x) j++;
      const v = apex[j];
      out[row + x] = Math.sqrt((x - v) * (x - v) + column[v]);
    }
  }
  return out;
}
