import { pictureOf, type Picture, type Picture16, type Picture8 } from './picture';

/**
 * Multiplies colour by coverage, in place: what was given is taken over, go on with what comes back.
 * Source: Porter and Duff, "Compositing digital images", SIGGRAPH 1984.
 * @param transparent whether there is any transparency; without it nothing is to be done @default true
 */
export function premultiply(picture: Picture8<'straight'>, transparent?: boolean): Picture8<'premultiplied'>;
export function premultiply(picture: Picture16<'straight'>, transparent?: boolean): Picture16<'premultiplied'>;
export function premultiply(picture: Picture<'straight'>, transparent?: boolean): Picture<'premultiplied'>;
export function premultiply(picture: Picture<'straight'>, transparent = true): Picture<'premultiplied'> {
  const { data } = picture;
  const top = picture.bits === 16 ? 65535 : 255;
  if (transparent)
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      if (a === top) continue;
      for (let c = i; c < i + 3; c++) data[c] = Math.round((data[c] * a) / top);
    }
  return pictureOf(picture, data, 'premultiplied');
}

/**
 * Divides colour by coverage, in place; where nothing covers, colour becomes 0. Go on with what comes back.
 * @param transparent as for premultiply @default true
 */
export function unpremultiply(picture: Picture8<'premultiplied'>, transparent?: boolean): Picture8<'straight'>;
export function unpremultiply(picture: Picture16<'premultiplied'>, transparent?: boolean): Picture16<'straight'>;
export function unpremultiply(picture: Picture<'premultiplied'>, transparent?: boolean): Picture<'straight'>;
export function unpremultiply(picture: Picture<'premultiplied'>, transparent = true): Picture<'straight'> {
  const { data } = picture;
  const top = picture.bits === 16 ? 65535 : 255;
  if (transparent)
    for (let i = 0; i < data.length; i += 4) {
      const a = data[i + 3];
      if (a === top) continue;
      for (let c = i; c < i + 3; c++) data[c] = a === 0 ? 0 : Math.min(top, Math.round((data[c] * top) / a));
    }
  return pictureOf(picture, data, 'straight');
}
