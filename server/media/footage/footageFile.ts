import type { Size } from '@/core/kind';
import type { Straight } from '@/core/raster/picture';
import type { Planes420 } from '@/core/raster/planes420';
import type { Rate } from '@/core/time/rate';
import { Problem } from '../../http/problem';

/** What a file of moving pictures says of itself, as it will be shown: upright, with square pixels. */
export interface FootageInfo {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly hasAlpha: boolean;
  readonly rate: Rate;
  /** Which picture of the file each frame shows. */
  readonly shows: readonly number[];
  readonly sound: { readonly codec: string; readonly seconds: number } | null;
  /** What was done to it, for people. */
  readonly told: string;
}

/** A file of moving pictures that can be read from at any frame. */
export interface FootageFile {
  readonly info: FootageInfo;
  /** Frames from one to another (exclusive) at full size, in order. @throws Problem where the file is damaged */
  frames(from: number, to: number): AsyncGenerator<Straight>;
  /**
   * The same in planes of BT.709 with limited range, where the file holds such planes: colours need no conversion on
   * their way from film to film.
   */
  planes?(from: number, to: number): AsyncGenerator<Planes420>;
  /** The file's pictures as small JPEGs, from one on, in order. @param width px */
  proxies(from: number, width: number): AsyncGenerator<Buffer>;
}

/** Footage is worked on up to so many seconds; what is longer is cut short. */
export const MOST_SECONDS = 60;
/** Sides of footage, px: 4K in any proportions. */
const MOST_SIDE = 4096;

/** @throws Problem `too-many-pixels` */
export function requireFootageSize({ width, height }: Size, name: string): void {
  if (Math.max(width, height) > MOST_SIDE || Math.min(width, height) < 1)
    throw new Problem(
      422,
      'too-many-pixels',
      `${name} is ${width} × ${height} px; footage may have up to ${MOST_SIDE} px to a side. ` +
        'Scale it down and bring it in again.',
    );
}
