import sharp, { type Sharp } from 'sharp';
import { layOutFrames } from '@/core/time/layOutFrames';
import { pixelsOf } from '../pixelsOf';
import { Problem } from '../../http/problem';
import { MOST_SECONDS, requireFootageSize, type FootageFile } from './footageFile';

/** Quality of proxies, of 100. */
const QUALITY = 85;
/** A picture that says it is seen for less is seen for a tenth of a second: common practice, as browsers do. */
const SHORTEST_MS = 11;
const SHORT_MS = 100;

/** An animated picture that FFmpeg does not read (WebP). @throws Problem `cut-off`, `too-many-pixels` */
export async function openAnimation(path: string, fileName: string): Promise<FootageFile> {
  const cutOff = new Problem(422, 'cut-off', `${fileName} cannot be read to its end: it is cut off or damaged.`);
  const all = await sharp(path, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw cutOff;
    });
  const { width, pageHeight: height = all.height, delay = [], pages = 1 } = all;
  requireFootageSize({ width, height }, fileName);
  const times: number[] = [];
  let at = 0;
  for (let n = 0; n < pages && at < MOST_SECONDS; n++) {
    times.push(at);
    at += seenFor(delay[n]);
  }
  const laid = layOutFrames(times, seenFor(delay[times.length - 1]));
  const page = (n: number): Sharp => sharp(path, { page: n, pages: 1, limitInputPixels: false, failOn: 'error' });
  return {
    info: {
      width,
      height,
      bits: 8,
      hasAlpha: all.hasAlpha ?? false,
      rate: laid.rate,
      shows: laid.shows,
      sound: null,
      told: [
        laid.even
          ? ''
          : `its ${times.length} pictures come at uneven times and were laid out as ${laid.shows.length} frames`,
        times.length < pages ? `longer than ${MOST_SECONDS} s: the first ${MOST_SECONDS} s came in` : '',
      ]
        .filter(Boolean)
        .join(', '),
    },
    async *frames(from, to) {
      for (let n = from; n < to; n++) {
        const { data, info } = await page(laid.shows[n])
          .toColourspace('srgb')
          .ensureAlpha()
          .raw({ depth: 'uchar' })
          .toBuffer({ resolveWithObject: true })
          .catch(() => {
            throw cutOff;
          });
        yield pixelsOf(data, info, 8);
      }
    },
    async *proxies(from, wide) {
      for (let n = from; n < times.length; n++)
        yield await page(n)
          .resize({ width: wide })
          .flatten({ background: '#808080' })
          .jpeg({ quality: QUALITY })
          .toBuffer();
    },
  };
}

const seenFor = (ms: number | undefined): number => (ms === undefined || ms < SHORTEST_MS ? SHORT_MS : ms) / 1000;
