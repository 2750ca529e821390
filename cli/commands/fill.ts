import { basename } from 'node:path';
import { FILL_METHODS, fillHole } from '@/core/inpaint/fillHole';
import { requireSameSize, toEightBits, type Mask } from '@/core/raster/picture';
import { readDepthFile } from '@/server/media/depthFile';
import { writePicture } from '@/server/media/writePicture';
import { formatOf, readPicture } from '../pictures';
import { needed, number, oneOf, readWords, WrongWords } from '../words';

/** A picture with its hole filled; pixels outside it come out unchanged. */
export async function fill(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    hole: { type: 'string' },
    'sample-from': { type: 'string' },
    depth: { type: 'string' },
    method: { type: 'string' },
    seed: { type: 'string' },
    out: { type: 'string' },
  });
  const path = needed('picture', given.picture);
  const holePath = needed('hole', given.hole);
  const out = needed('out', given.out);
  const method = oneOf('method', given.method, FILL_METHODS, 'texture');
  if (given.depth !== undefined && method !== 'continue')
    throw new WrongWords('--depth goes with --method continue only: its planes go on.');
  const seed = number('seed', given.seed, 1);
  if (!Number.isInteger(seed) || seed < 0 || seed > 1e9)
    throw new WrongWords(`--seed takes a whole number from 0 to 1000000000, not '${given.seed}'.`);
  const { picture, header } = await readPicture(path);
  const format = formatOf(out, header.bits === 16);
  const mask = async (file: string): Promise<Mask> => {
    const grey = toEightBits((await readPicture(file)).picture);
    requireSameSize(basename(file), grey, basename(path), picture);
    return {
      width: grey.width,
      height: grey.height,
      data: Uint8Array.from({ length: grey.width * grey.height }, (_, i) => grey.data[i * 4]),
    };
  };
  const hole = await mask(holePath);
  const from = given['sample-from'];
  const depth =
    given.depth === undefined
      ? undefined
      : await readDepthFile(given.depth, basename(given.depth), { whiteIsNear: true, mend: true });
  if (depth) requireSameSize(basename(given.depth!), depth, basename(path), picture);
  await writePicture(
    out,
    fillHole(picture, hole, method, {
      seed,
      ...(depth ? { depth } : {}),
      ...(from === undefined ? {} : { sampleFrom: await mask(from) }),
    }),
    format,
    { alpha: header.hasAlpha },
  );
}
