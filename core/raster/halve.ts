interface Sized {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/** One channel of 16 bits at half its size: the mean over two by two; at an odd border over what is there. */
export function halvePlane({ width, height, data }: Sized): Sized {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Uint16Array(w * h);
  for (let y = 0; y < h; y++) {
    const row = 2 * y * width;
    const below = 2 * y + 1 < height ? row + width : row;
    for (let x = 0; x < w; x++) {
      const a = 2 * x;
      const b = a + 1 < width ? a + 1 : a;
      out[y * w + x] = (data[row + a] + data[row + b] + data[below + a] + data[below + b] + 2) >> 2;
    }
  }
  return { width: w, height: h, data: out };
}

/** Colours of 16 bits, four values side by side with straight alpha, at half their size: means weighted by alpha. @param width of values, four a px */
export function halveColours({ width, height, data }: Sized): Sized {
  const across = width / 4;
  const w = (across + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Uint16Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    const row = 2 * y * width;
    const below = 2 * y + 1 < height ? row + width : row;
    for (let x = 0; x < w; x++) {
      const a = 8 * x;
      const b = 2 * x + 1 < across ? a + 4 : a;
      const [p, q, r, s] = [row + a, row + b, below + a, below + b];
      const alpha = data[p + 3] + data[q + 3] + data[r + 3] + data[s + 3];
      if (alpha === 0) continue;
      const o = (y * w + x) * 4;
      for (let c = 0; c < 3; c++) {
        const sum =
          data[p + c] * data[p + 3] + data[q + c] * data[q + 3] + data[r + c] * data[r + 3] + data[s + c] * data[s + 3];
        out[o + c] = Math.round(sum / alpha);
      }
      out[o + 3] = (alpha + 2) >> 2;
    }
  }
  return { width: w * 4, height: h, data: out };
}
