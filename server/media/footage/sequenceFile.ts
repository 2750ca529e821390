import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import sharp from 'sharp';
import type { Rate } from '@/core/time/rate';
import { cacheDir } from '../../config';
import { Problem } from '../../http/problem';
import { inspectPicture, type PictureHeader } from '../inspect';
import { readWholePicture } from '../readWholePicture';
import { openZip, type OpenZip } from '../zip';
import { MOST_SECONDS, MOST_SIDE, type FootageFile } from './footageFile';

const PICTURES = new Set(['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.webp', '.avif']);
/** Pictures say nothing of time. */
export const SEQUENCE_RATE: Rate = { numerator: 24, denominator: 1 };
const QUALITY = 85;

/** A zip of numbered pictures, in the order of their names. @throws Problem what is wrong with it */
export async function openSequence(path: string, fileName: string): Promise<FootageFile> {
  const zip = await openZip(path, fileName);
  const names = picturesOf(zip);
  if (names.length < 2) {
    zip.close();
    throw new Problem(
      422,
      'no-frames',
      `${fileName} holds ${names.length === 1 ? 'one picture' : 'no pictures'}: a sequence has at least two, PNG, JPEG, TIFF, WebP or AVIF, in the order of their names.`,
    );
  }
  const most = (MOST_SECONDS * SEQUENCE_RATE.numerator) / SEQUENCE_RATE.denominator;
  const used = names.slice(0, most);
  const first = await taken(zip, used[0], inspectPicture);
  if (Math.max(first.width, first.height) > MOST_SIDE)
    throw new Problem(
      422,
      'too-many-pixels',
      `${basename(used[0])} is ${first.width} × ${first.height} px; footage may have up to ${MOST_SIDE} px to a side. Scale it down and bring it in again.`,
    );
  return {
    info: {
      width: first.width,
      height: first.height,
      bits: first.bits,
      hasAlpha: first.hasAlpha,
      rate: SEQUENCE_RATE,
      shows: used.map((_, n) => n),
      sound: null,
      told: [
        first.told,
        used.length < names.length ? `longer than ${MOST_SECONDS} s: the first ${used.length} pictures came in` : '',
      ]
        .filter(Boolean)
        .join(', '),
    },
    async *frames(from, to) {
      for (let n = from; n < to; n++) {
        const picture = await taken(zip, used[n], readWholePicture);
        requireSize(picture, first, used[n], used[0]);
        yield picture;
      }
    },
    async *proxies(from, width) {
      for (let n = from; n < used.length; n++)
        yield await taken(zip, used[n], async (file, name) => {
          requireSize(await inspectPicture(file, name), first, used[n], used[0]);
          return sharp(file, { failOn: 'error' })
            .autoOrient()
            .resize({ width })
            .flatten({ background: '#808080' })
            .toColourspace('srgb')
            .jpeg({ quality: QUALITY })
            .toBuffer();
        });
    },
  };
}

/** Numbers within names count as numbers: 10 comes after 9. */
const ORDER = new Intl.Collator('en', { numeric: true });

const picturesOf = ({ files }: OpenZip): string[] =>
  files
    .map(({ name }) => name)
    .filter((name) => PICTURES.has(extname(name).toLowerCase()) && !/(^|\/)(__MACOSX|\.)/.test(name))
    .sort((a, b) => ORDER.compare(a, b));

function requireSize(
  { width, height }: Pick<PictureHeader, 'width' | 'height'>,
  first: Pick<PictureHeader, 'width' | 'height'>,
  name: string,
  firstName: string,
): void {
  if (width !== first.width || height !== first.height)
    throw new Problem(
      422,
      'size-differs',
      `${basename(name)} is ${width} × ${height} px but ${basename(firstName)} is ${first.width} × ${first.height} px. Frames have one size.`,
    );
}

/** One picture of the zip as a file, while it is worked on. */
async function taken<T>(zip: OpenZip, name: string, work: (path: string, fileName: string) => Promise<T>): Promise<T> {
  const path = join(cacheDir('incoming'), `${randomUUID()}${extname(name)}`);
  try {
    await zip.take(name, path);
    return await work(path, basename(name));
  } finally {
    await rm(path, { force: true });
  }
}
