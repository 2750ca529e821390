import { basename } from 'node:path';
import { closedFormMatte } from '@/core/matte/closedForm';
import { cleanEdgeColour } from '@/core/matte/edgeColour';
import { asTrimap } from '@/core/matte/trimap';
import { requireSameSize, toEightBits } from '@/core/raster/picture';
import { writeMatte, writePicture } from '@/server/media/writePicture';
import { formatOf, readPicture } from '../pictures';
import { needed, readWords } from '../words';

/** The soft matte inside a trimap's grey band; and, where asked for, the picture with the old background's colour taken out. */
export async function matte(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    trimap: { type: 'string' },
    out: { type: 'string' },
    'clean-colour': { type: 'string' },
  });
  const picturePath = needed('picture', given.picture);
  const trimapPath = needed('trimap', given.trimap);
  const out = needed('out', given.out);
  const cleanPath = given['clean-colour'];
  if (cleanPath !== undefined) formatOf(cleanPath, false);
  const { picture: read, header } = await readPicture(picturePath);
  const picture = toEightBits(read);
  const marks = toEightBits((await readPicture(trimapPath)).picture);
  requireSameSize(basename(trimapPath), marks, basename(picturePath), picture);
  const { width, height } = picture;
  const grey = new Uint8Array(width * height);
  for (let i = 0; i < grey.length; i++) grey[i] = marks.data[i * 4];
  const alpha = closedFormMatte(picture, asTrimap({ width, height, data: grey }));
  const deep = header.bits === 16;
  await writeMatte(out, {
    width,
    height,
    data: deep
      ? Uint16Array.from(alpha, (a) => Math.round(a * 65535))
      : Uint8Array.from(alpha, (a) => Math.round(a * 255)),
  });
  if (cleanPath !== undefined)
    await writePicture(cleanPath, cleanEdgeColour(picture, alpha), formatOf(cleanPath, false), { alpha: true });
}
