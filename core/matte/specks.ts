import type { Mask } from '../raster/picture';

/** A patch of pixels that hang together (four neighbours) on one side of the edge. */
export interface Patch {
  readonly inside: boolean;
  readonly pixels: Int32Array;
}

/** All patches of fewer than `px` pixels; `inside` chooses specks (true) or holes (false). */
export function* smallPatches({ width, height, data }: Mask, px: number, inside: boolean): Generator<Patch> {
  const seen = new Uint8Array(width * height);
  const stack = new Int32Array(width * height);
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || data[start] >= 128 !== inside) continue;
    // The stack never shrinks: what was taken from it stays at its front as the patch's pixels.
    let taken = 0;
    let end = 0;
    seen[start] = 1;
    stack[end++] = start;
    while (taken < end) {
      const i = stack[taken++];
      const x = i % width;
      const visit = (j: number): void => {
        if (!seen[j] && data[j] >= 128 === inside) {
          seen[j] = 1;
          stack[end++] = j;
        }
      };
      if (x > 0) visit(i - 1);
      if (x < width - 1) visit(i + 1);
      if (i >= width) visit(i - width);
      if (i + width < data.length) visit(i + width);
    }
    if (end < px) yield { inside, pixels: stack.slice(0, end) };
  }
}

/** Fills holes of fewer than `px` pixels. */
export function fillHoles(matte: Mask, px: number): Mask {
  const data = matte.data.slice();
  for (const { pixels } of smallPatches(matte, px, false)) for (const i of pixels) data[i] = 255;
  return { width: matte.width, height: matte.height, data };
}

/** Drops specks of fewer than `px` pixels. */
export function dropSpecks(matte: Mask, px: number): Mask {
  const data = matte.data.slice();
  for (const { pixels } of smallPatches(matte, px, true)) for (const i of pixels) data[i] = 0;
  return { width: matte.width, height: matte.height, data };
}

/** How many specks of fewer than `px` pixels a matte holds. */
export function countSpecks(matte: Mask, px: number): number {
  let n = 0;
  for (const patch of smallPatches(matte, px, true)) if (patch.inside) n++;
  return n;
}
