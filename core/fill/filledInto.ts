import { copyPicture, isDeep, type Mask, type Premultiplied, type Straight } from '../raster/picture';

/** What was filled in before, with a hole's pixels taken from a picture that fills it. @param hole 128 and more: taken */
export function filledInto(before: Straight, { data }: Premultiplied, hole: Mask): Straight {
  const out = copyPicture(before);
  const most = isDeep(before) ? 65535 : 255;
  for (let i = 0; i < hole.data.length; i++) {
    if (hole.data[i] < 128) continue;
    const a = data[i * 4 + 3];
    for (let c = i * 4; c < i * 4 + 3; c++)
      out.data[c] = a === 0 ? 0 : Math.min(most, Math.round((data[c] * most) / a));
    out.data[i * 4 + 3] = most;
  }
  return out;
}
