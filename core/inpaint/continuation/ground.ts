/** A picture in which a hole is to be filled, as planes of numbers 0 to 255. */
export interface Ground {
  readonly width: number;
  readonly height: number;
  /** Red, green and blue, interleaved. */
  readonly colours: Float32Array;
  /** 1 where the picture is known. */
  readonly known: Uint8Array;
  /** 1 where it may be taken from: known places only. */
  readonly from: Uint8Array;
  /** 1 where it is to be filled; what is neither known nor hole has no part. */
  readonly hole: Uint8Array;
}

/** How light each place is, 0 to 255 (luma of ITU-R BT.601). */
export function greyOf({ colours, known }: Ground): Float32Array {
  const grey = new Float32Array(known.length);
  for (let i = 0; i < grey.length; i++)
    grey[i] = 0.299 * colours[i * 3] + 0.587 * colours[i * 3 + 1] + 0.114 * colours[i * 3 + 2];
  return grey;
}

/** The same at a size so many times smaller: means over what is known. */
export function smaller({ width, height, colours, known, from, hole }: Ground, factor: number): Ground {
  const across = Math.ceil(width / factor);
  const down = Math.ceil(height / factor);
  const sums = new Float32Array(across * down * 3);
  const cells = new Float32Array(across * down);
  const seen = new Float32Array(across * down);
  const sources = new Float32Array(across * down);
  const open = new Float32Array(across * down);
  const columns = Int32Array.from({ length: width }, (_, x) => Math.floor(x / factor));
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / factor) * across;
    for (let x = 0; x < width; x++, i++) {
      const to = row + columns[x];
      cells[to]++;
      open[to] += hole[i];
      if (!known[i]) continue;
      seen[to]++;
      sources[to] += from[i];
      sums[to * 3] += colours[i * 3];
      sums[to * 3 + 1] += colours[i * 3 + 1];
      sums[to * 3 + 2] += colours[i * 3 + 2];
    }
  }
  for (let i = 0; i < seen.length; i++) if (seen[i] > 0) for (let c = 0; c < 3; c++) sums[i * 3 + c] /= seen[i];
  // What is known in half of its cell and more is known.
  return {
    width: across,
    height: down,
    colours: sums,
    known: Uint8Array.from(cells, (n, i) => (seen[i] * 2 >= n ? 1 : 0)),
    from: Uint8Array.from(cells, (n, i) => (sources[i] * 2 >= n ? 1 : 0)),
    hole: Uint8Array.from(cells, (n, i) => (seen[i] * 2 < n && open[i] > 0 ? 1 : 0)),
  };
}

/** A mask grown by so many px, in squares. */
export function grown(mask: Uint8Array, width: number, height: number, by: number): Uint8Array {
  const across = new Uint8Array(mask.length);
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++)
    for (let x = -by, until = -1; x < width; x++) {
      if (x + by < width && mask[y * width + x + by]) until = x + 2 * by;
      if (x >= 0 && x <= until) across[y * width + x] = 1;
    }
  for (let x = 0; x < width; x++)
    for (let y = -by, until = -1; y < height; y++) {
      if (y + by < height && across[(y + by) * width + x]) until = y + 2 * by;
      if (y >= 0 && y <= until) out[y * width + x] = 1;
    }
  return out;
}

/** A plane blurred by a Gaussian; beyond the border there is nothing. @param weights core/raster/gaussian */
export function blurred(plane: Float32Array, width: number, height: number, weights: Float32Array): Float32Array {
  const reach = (weights.length - 1) / 2;
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let n = -reach; n <= reach; n++) {
      const w = weights[n + reach];
      for (let x = Math.max(0, -n), end = Math.min(width, width - n); x < end; x++)
        across[row + x] += w * plane[row + x + n];
    }
  }
  for (let y = 0; y < height; y++)
    for (let n = Math.max(-reach, -y); n <= Math.min(reach, height - 1 - y); n++) {
      const w = weights[n + reach];
      const from = (y + n) * width;
      const to = y * width;
      for (let x = 0; x < width; x++) out[to + x] += w * across[from + x];
    }
  return out;
}
