import { CoreError } from '../error';
import { narrowed } from './bits';

/**
 * How colour and coverage go together: straight colours are what they are, premultiplied ones are multiplied by their
 * coverage. Without transparency both are the same.
 */
export type Alpha = 'straight' | 'premultiplied';

/** RGBA, 8 bits a channel, rows without padding. Values are sRGB-encoded unless said otherwise. */
export interface Picture8<A extends Alpha = Alpha> {
  readonly width: number;
  readonly height: number;
  readonly bits: 8;
  readonly alpha: A;
  readonly data: Uint8Array | Uint8ClampedArray;
}
/** The same with 16 bits a channel, 0 to 65535. */
export interface Picture16<A extends Alpha = Alpha> {
  readonly width: number;
  readonly height: number;
  readonly bits: 16;
  readonly alpha: A;
  readonly data: Uint16Array;
}
export type Picture<A extends Alpha = Alpha> = Picture8<A> | Picture16<A>;

/** What is stored, read and written. */
export type Straight = Picture<'straight'>;
export type Straight8 = Picture8<'straight'>;
/** What plates are laid out and rendered in. */
export type Premultiplied = Picture<'premultiplied'>;
export type Premultiplied8 = Picture8<'premultiplied'>;

/** A picture of some pixels: as deep as they are. */
export function pictureOf<A extends Alpha>(size: Size, data: Uint8Array | Uint8ClampedArray, alpha: A): Picture8<A>;
export function pictureOf<A extends Alpha>(size: Size, data: Uint16Array, alpha: A): Picture16<A>;
export function pictureOf<A extends Alpha>(size: Size, data: Picture['data'], alpha: A): Picture<A>;
export function pictureOf<A extends Alpha>({ width, height }: Size, data: Picture['data'], alpha: A): Picture<A> {
  return sixteenBits(data) ? { width, height, bits: 16, alpha, data } : { width, height, bits: 8, alpha, data };
}

interface Size {
  readonly width: number;
  readonly height: number;
}

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
  return picture.bits === 16;
}

/**
 * True for values of 16 bits. By their size: an array that another thread or realm has made is no instance of this
 * one's class.
 */
export function sixteenBits(data: Uint8Array | Uint8ClampedArray | Uint16Array): data is Uint16Array {
  return data.BYTES_PER_ELEMENT === 2;
}

/** An empty (transparent black) picture of the same bits and kind of alpha as `like`. */
export function emptyPicture<P extends Picture>(like: P, width: number, height: number): P {
  const n = width * height * 4;
  return pictureOf(
    { width, height },
    isDeep(like) ? new Uint16Array(n) : new Uint8Array(n),
    like.alpha,
  ) as unknown as P;
}

/** An empty picture of straight alpha. */
export const emptyStraight = (size: Size, bits: 8 | 16): Straight => {
  const n = size.width * size.height * 4;
  return pictureOf(size, bits === 16 ? new Uint16Array(n) : new Uint8Array(n), 'straight');
};

/** The same picture with pixels of its own. */
export const copyPicture = <P extends Picture>(picture: P): P => ({ ...picture, data: picture.data.slice() });

/** @throws CoreError `size-differs` where two rasters that belong together have different sizes. */
export function requireSameSize(what: string, a: Size, other: string, b: Size): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new CoreError(
      'size-differs',
      `${what} is ${a.width} × ${a.height} px but ${other} is ${b.width} × ${b.height} px. Both must have the same size.`,
    );
  }
}

/** A picture with 8 bits a channel; one that has them is itself. */
export function toEightBits<A extends Alpha>(picture: Picture<A>): Picture8<A> {
  return picture.bits === 16 ? pictureOf(picture, narrowed(picture.data), picture.alpha) : picture;
}
