import { CoreError } from '../error';
import { emptyPicture, sixteenBits, type DepthMap, type Mask, type Picture } from '../raster/picture';
import { textureFill, type TextureFillOptions } from './textureFill';

export const BORDER_METHODS = ['mirror', 'stretch', 'texture'] as const;
export type BorderMethod = (typeof BORDER_METHODS)[number];

/** How many px are added at each side. */
export interface Border {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The size of a canvas with a border. @throws CoreError `out-of-range` for a side below 0 or above the picture's own size */
export function extendedSize(
  { width, height }: { width: number; height: number },
  border: Border,
): { width: number; height: number } {
  for (const [side, px, most] of [
    ['left', border.left, width],
    ['right', border.right, width],
    ['top', border.top, height],
    ['bottom', border.bottom, height],
  ] as const) {
    if (!(Number.isInteger(px) && px >= 0 && px <= most))
      throw new CoreError(
        'out-of-range',
        `The border at the ${side} is ${px} px; it must be a whole number from 0 to ${most} px.`,
      );
  }
  return { width: width + border.left + border.right, height: height + border.top + border.bottom };
}

/**
 * A picture with more canvas around it: mirrored at its edges, its outermost strip (a quarter as wide as the border) drawn
 * out over it, or completed with texture. The picture itself comes out unchanged.
 * @throws CoreError `out-of-range`; what texture fill throws
 */
export function extendPicture<P extends Picture>(
  picture: P,
  border: Border,
  method: BorderMethod,
  { seed = 1, onProgress }: Pick<TextureFillOptions, 'seed' | 'onProgress'> = {},
): P {
  const { width, height } = extendedSize(picture, border);
  const out = emptyPicture(picture, width, height);
  for (let y = 0; y < height; y++) {
    const v =
      method === 'stretch'
        ? stretched(y - border.top, picture.height, border.top, border.bottom)
        : mirrored(y - border.top, picture.height);
    for (let x = 0; x < width; x++) {
      const u =
        method === 'stretch'
          ? stretched(x - border.left, picture.width, border.left, border.right)
          : mirrored(x - border.left, picture.width);
      const i = (v * picture.width + u) * 4;
      const o = (y * width + x) * 4;
      for (let c = 0; c < 4; c++) out.data[o + c] = picture.data[i + c];
    }
  }
  if (method !== 'texture' || (border.left === 0 && border.right === 0 && border.top === 0 && border.bottom === 0))
    return out;
  const hole: Mask = { width, height, data: new Uint8Array(width * height).fill(255) };
  for (let y = 0; y < picture.height; y++)
    hole.data.fill(0, (y + border.top) * width + border.left, (y + border.top) * width + border.left + picture.width);
  return textureFill(out, hole, { seed, onProgress });
}

/** A raster of one channel with more canvas around it: its outermost values go on, or `fill` where that is given. */
export function extendPlane<T extends DepthMap | Mask>(plane: T, border: Border, fill?: number): T {
  const { width, height } = extendedSize(plane, border);
  const data = sixteenBits(plane.data) ? new Uint16Array(width * height) : new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = Math.min(plane.height - 1, Math.max(0, y - border.top));
    const inside = y >= border.top && y < border.top + plane.height;
    for (let x = 0; x < width; x++) {
      const u = Math.min(plane.width - 1, Math.max(0, x - border.left));
      data[y * width + x] =
        fill !== undefined && !(inside && x >= border.left && x < border.left + plane.width)
          ? fill
          : plane.data[v * plane.width + u];
    }
  }
  return { width, height, data } as unknown as T;
}

/** The place that a mirror at the edge shows. */
function mirrored(at: number, size: number): number {
  const inner = at < 0 ? -at - 1 : at;
  const v = inner >= size ? 2 * size - 1 - inner : inner;
  return Math.min(size - 1, Math.max(0, v));
}

/** The outermost strip, a quarter as wide as the border, drawn out over it. */
function stretched(at: number, size: number, before: number, after: number): number {
  if (at < 0) return Math.min(size - 1, Math.floor(((at + before + 0.5) / before) * Math.max(1, before / 4)));
  if (at >= size) {
    const strip = Math.max(1, after / 4);
    return Math.max(0, Math.min(size - 1, Math.floor(size - strip + ((at - size + 0.5) / after) * strip)));
  }
  return at;
}
