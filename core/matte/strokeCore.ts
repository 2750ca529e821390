import type { Strokes } from './strokes';

/** What lies deeper within its stroke than this share of the stroke's half width is its core. */
const CORE = 0.5;

/**
 * The cores of strokes, with their sides; 0 elsewhere. A stroke over a thing thinner than itself covers what lies beside it, too:
 * its core says what is meant.
 */
export function strokeCores({ width, height, data }: Strokes): Strokes {
  const deep = depths({ width, height, data });
  const out = new Uint8Array(data.length);
  const seen = new Uint8Array(data.length);
  for (let first = 0; first < data.length; first++) {
    if (data[first] === 0 || seen[first]) continue;
    const pixels = [first];
    seen[first] = 1;
    let deepest = 0;
    for (let n = 0; n < pixels.length; n++) {
      const i = pixels[n];
      deepest = Math.max(deepest, deep[i]);
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width])
        if (j >= 0 && j < data.length && data[j] === data[first] && !seen[j]) {
          seen[j] = 1;
          pixels.push(j);
        }
    }
    for (const i of pixels) if (deep[i] > CORE * deepest) out[i] = data[i];
  }
  return { width, height, data: out };
}

/** How many px each pixel of a stroke lies from what is not of its side, in steps to the four beside it. */
function depths({ width, height, data }: Strokes): Uint16Array {
  const deep = new Uint16Array(data.length);
  const most = 65535;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (data[i] === 0) continue;
      const left = x > 0 && data[i - 1] === data[i] ? deep[i - 1] : 0;
      const above = y > 0 && data[i - width] === data[i] ? deep[i - width] : 0;
      deep[i] = Math.min(most, 1 + Math.min(left, above));
    }
  for (let y = height - 1, i = data.length - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--, i--) {
      if (data[i] === 0) continue;
      const right = x < width - 1 && data[i + 1] === data[i] ? deep[i + 1] : 0;
      const below = y < height - 1 && data[i + width] === data[i] ? deep[i + width] : 0;
      deep[i] = Math.min(deep[i], 1 + Math.min(right, below));
    }
  return deep;
}
