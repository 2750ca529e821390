import { requireSameSize, type Mask } from '../raster/picture';

// How plates share the coverage of a picture among them. All mattes 8-bit, of one size; each throws CoreError `size-differs`.

/** What is left of a matte when the others keep theirs: what lies behind a soft edge shows as much as that edge lets through. */
export function spareOthers(matte: Mask, others: readonly Mask[]): Mask {
  const data = matte.data.slice();
  for (const other of others) {
    requireSameSize('A matte', other, 'the other one', matte);
    for (let i = 0; i < data.length; i++)
      if (data[i] && other.data[i]) data[i] = Math.round((data[i] * (255 - other.data[i])) / 255);
  }
  return { width: matte.width, height: matte.height, data };
}

/** A matte in two: what a choice takes from it, and what stays. Together they cover what it covered. */
export function splitMatte(matte: Mask, choice: Mask): { readonly taken: Mask; readonly left: Mask } {
  requireSameSize('The choice', choice, 'the matte', matte);
  const { width, height } = matte;
  const taken = new Uint8Array(matte.data.length);
  const left = new Uint8Array(matte.data.length);
  for (let i = 0; i < taken.length; i++) {
    taken[i] = Math.round((matte.data[i] * choice.data[i]) / 255);
    left[i] = matte.data[i] - taken[i];
  }
  return { taken: { width, height, data: taken }, left: { width, height, data: left } };
}

/** Two mattes as one: where two plates were parted along a soft line (their sum is whole), the union is whole again. */
export function joinMattes(a: Mask, b: Mask): Mask {
  requireSameSize('A matte', a, 'the other one', b);
  return { width: a.width, height: a.height, data: a.data.map((v, i) => Math.min(255, v + b.data[i])) };
}
