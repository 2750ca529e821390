import { copyPicture, isDeep, type Straight } from './picture';

/** One straight-alpha picture over another of the same size and bits. Source: Porter and Duff 1984. */
export function overStraight<P extends Straight>(under: P, upper: P): P {
  const most = isDeep(under) ? 65535 : 255;
  const out = copyPicture(under);
  for (let i = 0; i < out.data.length; i += 4) {
    const upperAlpha = upper.data[i + 3] / most;
    const alpha = upperAlpha + (under.data[i + 3] / most) * (1 - upperAlpha);
    if (alpha === 0) continue;
    for (let c = i; c < i + 3; c++)
      out.data[c] = Math.round((upper.data[c] * upperAlpha + under.data[c] * (alpha - upperAlpha)) / alpha);
    out.data[i + 3] = Math.round(alpha * most);
  }
  return out;
}
