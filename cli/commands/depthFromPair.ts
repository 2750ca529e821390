import { basename } from 'node:path';
import { depthFromPair as matched } from '@/core/depth/pair/depthFromPair';
import { requireSameSize, toEightBits } from '@/core/raster/picture';
import { writeDepthFile } from '@/server/media/depthFile';
import { readPicture } from '../pictures';
import { needed, readWords } from '../words';

/** Depth of the left of two photographs of the same scene. */
export async function depthFromPair(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    left: { type: 'string' },
    right: { type: 'string' },
    out: { type: 'string' },
    json: { type: 'boolean' },
  });
  const leftPath = needed('left', given.left);
  const rightPath = needed('right', given.right);
  const out = needed('out', given.out);
  const left = toEightBits((await readPicture(leftPath)).picture);
  const right = toEightBits((await readPicture(rightPath)).picture);
  requireSameSize(basename(rightPath), right, basename(leftPath), left);
  const began = performance.now();
  const { depth, nearPx, farPx, filled } = matched(left, right);
  const milliseconds = Math.round(performance.now() - began);
  await writeDepthFile(out, depth);
  if (given.json)
    console.log(
      JSON.stringify({
        width: depth.width,
        height: depth.height,
        near: Number(nearPx.toFixed(2)),
        far: Number(farPx.toFixed(2)),
        filledShare: Number(filled.toFixed(4)),
        milliseconds,
      }),
    );
}
