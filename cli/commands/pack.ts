import { CoreError } from '@/core/error';
import { ANAGLYPHS } from '@/core/packing/anaglyph';
import { packPair } from '@/core/packing/packPair';
import { isDeep, toEightBits } from '@/core/raster/picture';
import { writePicture } from '@/server/media/writePicture';
import { formatOf, readPicture } from '../pictures';
import { needed, oneOf, readWords } from '../words';

/** Packs a left and a right picture into one. */
export async function pack(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    left: { type: 'string' },
    right: { type: 'string' },
    as: { type: 'string' },
    out: { type: 'string' },
  });
  const leftPath = needed('left', given.left);
  const rightPath = needed('right', given.right);
  const out = needed('out', given.out);
  const as = oneOf('as', given.as, [...ANAGLYPHS, 'side-by-side', 'over-under'] as const);
  formatOf(out, false);
  const left = await readPicture(leftPath);
  const right = await readPicture(rightPath);
  const { width, height } = left.picture;
  if (width !== right.picture.width || height !== right.picture.height)
    throw new CoreError(
      'size-differs',
      `${leftPath} is ${width} × ${height} px but ${rightPath} is ${right.picture.width} × ${right.picture.height} px. Both eyes must have the same size.`,
    );
  const isAnaglyph = (ANAGLYPHS as readonly string[]).includes(as);
  const deep = !isAnaglyph && isDeep(left.picture) && isDeep(right.picture);
  const l = deep ? left.picture : toEightBits(left.picture);
  const r = deep ? right.picture : toEightBits(right.picture);
  const packed = packPair(l, r, as);
  await writePicture(out, packed, formatOf(out, deep), { alpha: left.header.hasAlpha || right.header.hasAlpha });
}
