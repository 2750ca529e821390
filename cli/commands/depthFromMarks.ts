import { basename } from 'node:path';
import { depthFromMarks as solved } from '@/core/depth/marks/depthFromMarks';
import { marksOf } from '@/core/depth/marks/marksOf';
import { markGround } from '@/core/depth/marks/nodes';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { requireSameSize, toEightBits } from '@/core/raster/picture';
import { writeDepthFile } from '@/server/media/depthFile';
import { readPicture } from '../pictures';
import { needed, readWords } from '../words';

/** A whole depth map from a few marks: a picture that is opaque where depth is known, its grey value the depth. */
export async function depthFromMarks(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    marks: { type: 'string' },
    out: { type: 'string' },
  });
  const picturePath = needed('picture', given.picture);
  const marksPath = needed('marks', given.marks);
  const out = needed('out', given.out);
  const picture = toEightBits((await readPicture(picturePath)).picture);
  const drawn = (await readPicture(marksPath)).picture;
  requireSameSize(basename(marksPath), drawn, basename(picturePath), picture);
  const depth = solved(picture, markGround(picture), marksOf(drawn), { exact: true })!;
  await writeDepthFile(out, toDepthMap(picture, depth));
}
