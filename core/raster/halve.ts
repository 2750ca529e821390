import { emptyPicture, type Picture } from './picture';

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

/** A picture at half its size: means over two by two, straight colours weighed by alpha; at an odd border over what is there. */
export function halvePicture<P extends Picture>(picture: P): P {
  const { width, height, data } = picture;
  const out = emptyPicture(picture, (width + 1) >> 1, (height + 1) >> 1);
  for (let y = 0, o = 0; y < out.height; y++) {
    const row = 2 * y * width;
    const below = 2 * y + 1 < height ? row + width : row;
    for (let x = 0; x < out.width; x++, o += 4) {
      const a = 2 * x;
      const b = a + 1 < width ? a + 1 : a;
      const p = (row + a) * 4;
      const q = (row + b) * 4;
      const r = (below + a) * 4;
      const s = (below + b) * 4;
      const alpha = data[p + 3] + data[q + 3] + data[r + 3] + data[s + 3];
      if (alpha === 0) continue;
      if (picture.alpha === 'premultiplied') {
        for (let c = 0; c < 4; c++) out.data[o + c] = (data[p + c] + data[q + c] + data[r + c] + data[s + c] + 2) >> 2;
        continue;
      }
      for (let c = 0; c < 3; c++) {
        const sum =
          data[p + c] * data[p + 3] + data[q + c] * data[q + 3] + data[r + c] * data[r + 3] + data[s + c] * data[s + 3];
        out.data[o + c] = Math.round(sum / alpha);
      }
      out.data[o + 3] = (alpha + 2) >> 2;
    }
  }
  return out;
}
