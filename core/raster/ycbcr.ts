import { pictureOf, type Straight8 } from './picture';

/**
 * What the first three channels of a picture hold: red, green and blue; or luma and the two colour differences of
 * BT.709 with limited range, as films are coded. Seeing from an eye, laying over and filling mix colours linearly, so
 * that they do the same in both.
 */
export type Colours = 'rgb' | 'ycbcr';

/** Shares of red and blue in luma. Source: ITU-R BT.709-6, item 3.2. */
const RED = 0.2126;
const BLUE = 0.0722;
const GREEN = 1 - RED - BLUE;
/** Steps of luma and colour differences from black to white, and where they begin, of 8 bits. Source: the same, 4.6. */
const LUMA = { steps: 219 / 255, begin: 16 };
const CHROMA = { steps: 224 / 255, middle: 128 };
/** A colour difference of one: 2 (1 - share). */
const CB = 2 * (1 - BLUE);
const CR = 2 * (1 - RED);

/** Red, green and blue as luma and colour differences; coverage stays. */
export function rgbToYcbcr(picture: Straight8): Straight8 {
  const { data } = picture;
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i += 4) {
    const luma = RED * data[i] + GREEN * data[i + 1] + BLUE * data[i + 2];
    out[i] = Math.round(LUMA.begin + LUMA.steps * luma);
    out[i + 1] = Math.round(CHROMA.middle + (CHROMA.steps / CB) * (data[i + 2] - luma));
    out[i + 2] = Math.round(CHROMA.middle + (CHROMA.steps / CR) * (data[i] - luma));
    out[i + 3] = data[i + 3];
  }
  return pictureOf(picture, out, 'straight');
}

/** Luma and colour differences as red, green and blue; what lies beyond black and white is cut off. */
export function ycbcrToRgb(picture: Straight8): Straight8 {
  const { data } = picture;
  const out = new Uint8ClampedArray(data.length);
  for (let i = 0; i < data.length; i += 4) {
    const luma = (data[i] - LUMA.begin) / LUMA.steps;
    const blue = luma + (CB / CHROMA.steps) * (data[i + 1] - CHROMA.middle);
    const red = luma + (CR / CHROMA.steps) * (data[i + 2] - CHROMA.middle);
    out[i] = red;
    out[i + 1] = (luma - RED * red - BLUE * blue) / GREEN;
    out[i + 2] = blue;
    out[i + 3] = data[i + 3];
  }
  return pictureOf(picture, out, 'straight');
}
