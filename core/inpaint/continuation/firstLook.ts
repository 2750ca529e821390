import { emptyPicture, type Mask, type Picture } from '../../raster/picture';
import { smoothArea } from '../smoothArea';
import { continueFill, type ContinueOptions } from './continueFill';

/** A hole of so few px is filled at once; a larger one is looked at so much smaller first. */
const MOST = 9_000;

/**
 * What filling as it goes on will look like, there in a fraction of the time: filled so much smaller that it is quick, its detail
 * laid over a smooth fill at the picture's own size, which meets its seam. Planes are not
 * followed: so much smaller nothing of them is foretold. Undefined where the hole is so small that the fill itself is quick.
 * @param hole 128 and more: fill
 * @throws CoreError what continueFill throws
 */
export function firstLook<P extends Picture>(
  picture: P,
  hole: Mask,
  { sampleFrom, ignore, seed }: Omit<ContinueOptions, 'onProgress' | 'depth'> = {},
): P | undefined {
  const count = hole.data.reduce((n, v) => n + (v >= 128 ? 1 : 0), 0);
  const factor = Math.ceil(Math.sqrt(count / MOST));
  if (factor <= 1) return undefined;
  const small = reduced({ picture, hole, ignore, sampleFrom }, factor);
  const options = { ...small.options, quick: true, ...(seed === undefined ? {} : { seed }) };
  const wentOn = continueFill(small.picture, small.hole, options);
  const plain = smoothArea(small.picture, small.hole, small.options.ignore);
  const out = smoothArea(picture, hole, ignore);
  const { width, height } = picture;
  const most = picture.bits === 16 ? 65535 : 255;
  const { width: w, height: h } = small.picture;
  for (let y = 0, i = 0; y < height; y++) {
    const v = Math.min(h - 1, Math.max(0, (y + 0.5) / factor - 0.5));
    const y0 = Math.floor(v);
    const y1 = Math.min(h - 1, y0 + 1);
    for (let x = 0; x < width; x++, i++) {
      if (hole.data[i] < 128) continue;
      const u = Math.min(w - 1, Math.max(0, (x + 0.5) / factor - 0.5));
      const x0 = Math.floor(u);
      const x1 = Math.min(w - 1, x0 + 1);
      for (let c = 0; c < 3; c++) {
        const detail = (a: number, b: number): number => {
          const at = (b * w + a) * 4 + c;
          return wentOn.data[at] - plain.data[at];
        };
        const upper = detail(x0, y0) + (u - x0) * (detail(x1, y0) - detail(x0, y0));
        const lower = detail(x0, y1) + (u - x0) * (detail(x1, y1) - detail(x0, y1));
        const value = out.data[i * 4 + c] + upper + (v - y0) * (lower - upper);
        out.data[i * 4 + c] = Math.min(most, Math.max(0, Math.round(value)));
      }
    }
  }
  return out;
}

interface Filling<P extends Picture> {
  readonly picture: P;
  readonly hole: Mask;
  readonly ignore: Mask | undefined;
  readonly sampleFrom: Mask | undefined;
}

/** Everything so many times smaller: what is known of each square of px, open where less than half of it is known. */
function reduced<P extends Picture>({ picture, hole, ignore, sampleFrom }: Filling<P>, factor: number) {
  const { width, height, data } = picture;
  const w = Math.ceil(width / factor);
  const h = Math.ceil(height / factor);
  const size = { width: w, height: h };
  const small = emptyPicture(picture, w, h);
  const masks = { hole: new Uint8Array(w * h), ignore: new Uint8Array(w * h), from: new Uint8Array(w * h) };
  const sums = [0, 0, 0, 0];
  for (let v = 0, to = 0; v < h; v++)
    for (let u = 0; u < w; u++, to++) {
      sums.fill(0);
      let known = 0;
      let open = 0;
      let taken = 0;
      let all = 0;
      for (let y = v * factor; y < Math.min(height, (v + 1) * factor); y++)
        for (let i = y * width + u * factor; i < y * width + Math.min(width, (u + 1) * factor); i++) {
          all++;
          if (hole.data[i] >= 128) open++;
          else if (!ignore || ignore.data[i] < 128) {
            known++;
            if (!sampleFrom || sampleFrom.data[i] >= 128) taken++;
            for (let c = 0; c < 4; c++) sums[c] += data[i * 4 + c];
          }
        }
      const isKnown = known * 2 >= all || (open === 0 && known > 0);
      if (isKnown) for (let c = 0; c < 4; c++) small.data[to * 4 + c] = Math.round(sums[c] / known);
      if (!isKnown) (open > 0 ? masks.hole : masks.ignore)[to] = 255;
      if (isKnown && taken > 0) masks.from[to] = 255;
    }
  const options: ContinueOptions = {
    ignore: { ...size, data: masks.ignore },
    ...(sampleFrom ? { sampleFrom: { ...size, data: masks.from } } : {}),
  };
  return { picture: small, hole: { ...size, data: masks.hole }, options };
}
