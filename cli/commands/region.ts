import { basename } from 'node:path';
import { RegionPaint } from '@/core/matte/regionPaint';
import { STROKE_IN, STROKE_OUT } from '@/core/matte/strokes';
import { requireSameSize, toEightBits } from '@/core/raster/picture';
import { readDepthFile } from '@/server/media/depthFile';
import { writeMatte } from '@/server/media/writePicture';
import { readPicture } from '../pictures';
import { needed, readWords } from '../words';

/** A matte grown from strokes: a picture that is white where it says in, black where it says out, transparent elsewhere. */
export async function region(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    strokes: { type: 'string' },
    depth: { type: 'string' },
    out: { type: 'string' },
  });
  const picturePath = needed('picture', given.picture);
  const strokesPath = needed('strokes', given.strokes);
  const out = needed('out', given.out);
  const picture = toEightBits((await readPicture(picturePath)).picture);
  const marks = toEightBits((await readPicture(strokesPath)).picture);
  requireSameSize(basename(strokesPath), marks, basename(picturePath), picture);
  const depthPath = given.depth;
  const depth =
    depthPath === undefined
      ? undefined
      : await readDepthFile(depthPath, basename(depthPath), { whiteIsNear: true, mend: true });
  if (depth) requireSameSize(basename(depthPath!), depth, basename(picturePath), picture);
  const data = new Uint8Array(marks.width * marks.height);
  // Half-covered and grey pixels come from a soft brush's edge; they take the side that they are nearer to.
  for (let i = 0; i < data.length; i++)
    if (marks.data[i * 4 + 3] >= 128) data[i] = marks.data[i * 4] >= 128 ? STROKE_IN : STROKE_OUT;
  const {
    width,
    height,
    data: matte,
  } = new RegionPaint(picture).solve({ width: marks.width, height: marks.height, data }, depth);
  await writeMatte(out, { width, height, data: matte });
}
