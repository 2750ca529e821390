/** The census looks so far aside and so far up and down: 9 x 7 places. */
const ASIDE = 4;
const UP = 3;

/** For every pixel which of its neighbours are darker: two words of 31 bits, interleaved. */
export type Census = Uint32Array;

/**
 * Source: Zabih and Woodfill, "Non-parametric local transforms for computing visual correspondence", ECCV 1994. Blind to how light a
 * picture is, which two cameras rarely agree on. Beyond the border its outermost pixels go on.
 */
export function censusOf(grey: Float32Array, width: number, height: number): Census {
  const out = new Uint32Array(width * height * 2);
  const columns = new Int32Array(2 * ASIDE + 1);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      for (let n = -ASIDE; n <= ASIDE; n++) columns[n + ASIDE] = Math.min(width - 1, Math.max(0, x + n));
      const middle = grey[i];
      let low = 0;
      let high = 0;
      let bit = 0;
      for (let m = -UP; m <= UP; m++) {
        const row = Math.min(height - 1, Math.max(0, y + m)) * width;
        for (let n = 0; n < columns.length; n++) {
          if (m === 0 && n === ASIDE) continue;
          const darker = grey[row + columns[n]] < middle ? 1 : 0;
          if (bit < 31) low |= darker << bit;
          else high |= darker << (bit - 31);
          bit++;
        }
      }
      out[2 * i] = low;
      out[2 * i + 1] = high;
    }
  return out;
}

/** How many bits of a word are set. */
export function bitsSet(word: number): number {
  let v = word - ((word >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return (((v + (v >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}
