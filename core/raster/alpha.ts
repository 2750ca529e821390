import { sixteenBits, type Picture } from './picture';

/** Multiplies colour by coverage, in place. Source: Porter and Duff, "Compositing digital images", SIGGRAPH 1984. */
export function premultiply({ data }: Picture): void {
  const top = sixteenBits(data) ? 65535 : 255;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === top) continue;
    for (let c = i; c < i + 3; c++) data[c] = Math.round((data[c] * a) / top);
  }
}

/** Divides colour by coverage, in place; where nothing covers, colour becomes 0. */
export function unpremultiply({ data }: Picture): void {
  const top = sixteenBits(data) ? 65535 : 255;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === top) continue;
    for (let c = i; c < i + 3; c++) data[c] = a === 0 ? 0 : Math.min(top, Math.round((data[c] * top) / a));
  }
}
