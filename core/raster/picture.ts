import { CoreError } from '../error';
import { narrowed } from './bits';

/** RGBA, 8 bits a channel, straight alpha, rows without padding. Values are sRGB-encoded unless said otherwise. */
export interface Picture8 {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint8ClampedArray;
}
/** The same with 16 bits a channel, 0 to 65535. */
export interface Picture16 {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}
export type Picture = Picture8 | Picture16;

/** One channel of 8 bits: a mask, 255 = in. */
export interface Mask {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}
/** A depth map: 0 farthest, 65535 nearest, linear in inverse distance. */
export interface DepthMap {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/** True where the picture has 16 bits a channel. */
export function isDeep(picture: Picture): picture is Picture16 {
  return sixteenBits(picture.data);
}

/** True for values of 16 bits. By their size: an array that another thread or realm has made is no instance of this one's class. */
export function sixteenBits(data: Uint8Array | Uint8ClampedArray | Uint16Array): data is Uint16Array {
  return data.BYTES_PER_ELEMENT === 2;
}

/** An empty (transparent black) picture of the same depth of bits as `like`. */
export function emptyPicture<P extends Picture>(like: P, width: number, height: number): P {
  const n = width * height * 4;
  return { width, height, data: isDeep(like) ? new Uint16Array(n) : new Uint8Array(n) } as unknown as P;
}

/** @throws CoreError `size-differs` where two rasters that belong together have different sizes. */
export function requireSameSize(
  what: string,
  a: { width: number; height: number },
  other: string,
  b: { width: number; height: number },
): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new CoreError(
      'size-differs',
      `${what} is ${a.width} × ${a.height} px but ${other} is ${b.width} × ${b.height} px. Both must have the same size.`,
    );
  }
}

/** A picture with 8 bits a channel; one that has them is itself. */
export function toEightBits(picture: Picture): Picture8 {
  return isDeep(picture) ? { width: picture.width, height: picture.height, data: narrowed(picture.data) } : picture;
}
