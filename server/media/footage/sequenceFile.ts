import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import sharp from 'sharp';
import type { Rate } from '@/core/time/rate';
import { cacheDir, LIMITS } from '../../config';
import { Problem } from '../../http/problem';
import { inspectPicture, type PictureHeader } from '../inspect';
import { readWholePicture } from '../readWholePicture';
import { openZip, type OpenZip } from '../zip';
import { MOST_SECONDS, requireFootageSize, type FootageFile } from './footageFile';

const PICTURES = new Set(['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.webp', '.avif']);
/** Pictures say nothing of time. */
export const SEQUENCE_RATE: Rate = { numerator: 24, denominator: 1 };
const QUALITY = 85;

/**
 * A zip of numbered pictures, in the order of their names. It is held open only while it is read. @throws Problem
 * what is wrong with it
 */
export async function openSequence(path: string, fileName: string): Promise<FootageFile> {
  const { names, first } = await withZip(path, fileName, async (zip) => {
    const found = picturesOf(zip, fileName);
    return { names: found, first: await taken(zip, found[0], inspectPicture) };
  });
  requireFootageSize(first, basename(names[0]));
  const most = (MOST_SECONDS * SEQUENCE_RATE.numerator) / SEQUENCE_RATE.denominator;
  const used = names.slice(0, most);
  const fits = (size: Pick<PictureHeader, 'width' | 'height'>, name: string): void => {
    requireSize({ ...size, name }, { ...first, name: used[0] });
  };
  const cut = used.length < names.length;
  return {
    info: {
      width: first.width,
      height: first.height,
      bits: first.bits,
      hasAlpha: first.hasAlpha,
      rate: SEQUENCE_RATE,
      shows: used.map((_, n) => n),
      sound: null,
      told: [first.told, cut ? `longer than ${MOST_SECONDS} s: the first ${used.length} pictures came in` : '']
        .filter(Boolean)
        .join(', '),
    },
    async *frames(from, to) {
      const zip = await openZip(path, fileName);
      try {
        for (let n = from; n < to; n++) {
          const picture = await taken(zip, used[n], readWholePicture);
          fits(picture, used[n]);
          yield picture;
        }
      } finally {
        zip.close();
      }
    },
    async *proxies(from, width) {
      const zip = await openZip(path, fileName);
      try {
        for (let n = from; n < used.length; n++)
          yield await taken(zip, used[n], async (file, name) => {
            fits(await inspectPicture(file, name), used[n]);
            return sharp(file, { failOn: 'error' })
              .autoOrient()
              .resize({ width })
              .flatten({ background: '#808080' })
              .toColourspace('srgb')
              .jpeg({ quality: QUALITY })
              .toBuffer();
          });
      } finally {
        zip.close();
      }
    },
  };
}

async function withZip<T>(path: string, fileName: string, work: (zip: OpenZip) => Promise<T>): Promise<T> {
  const zip = await openZip(path, fileName);
  try {
    return await work(zip);
  } finally {
    zip.close();
  }
}

/** Numbers within names count as numbers: 10 comes after 9. */
const ORDER = new Intl.Collator('en', { numeric: true });

/** The names of its pictures in their order. @throws Problem `no-frames`, `too-large` */
function picturesOf({ files }: OpenZip, fileName: string): string[] {
  const pictures = files.filter(
    ({ name }) => PICTURES.has(extname(name).toLowerCase()) && !/(^|\/)(__MACOSX|\.)/.test(name),
  );
  if (pictures.length < 2)
    throw new Problem(
      422,
      'no-frames',
      `${fileName} holds ${pictures.length === 1 ? 'one picture' : 'no pictures'}: ` +
        'a sequence has at least two, PNG, JPEG, TIFF, WebP or AVIF, in the order of their names.',
    );
  // What is announced is checked while it is unpacked.
  const large = pictures.find(({ bytes }) => bytes > LIMITS.bytes);
  if (large)
    throw new Problem(
      413,
      'too-large',
      `${basename(large.name)} in ${fileName} would unpack to more than ${LIMITS.bytes / 1e6} MB. ` +
        'Save it compressed, or smaller.',
    );
  return pictures.map(({ name }) => name).sort((a, b) => ORDER.compare(a, b));
}

type Named = Pick<PictureHeader, 'width' | 'height'> & { readonly name: string };

/** @throws Problem `size-differs` */
function requireSize(picture: Named, first: Named): void {
  if (picture.width === first.width && picture.height === first.height) return;
  const says = ({ name, width, height }: Named): string => `${basename(name)} is ${width} × ${height} px`;
  throw new Problem(422, 'size-differs', `${says(picture)} but ${says(first)}. Frames have one size.`);
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
