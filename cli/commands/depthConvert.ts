import { basename } from 'node:path';
import { requireRange, type DistanceRange } from '@/core/depth/distance';
import { readDepthFile, writeDepthFile } from '@/server/media/depthFile';
import { needed, number, readWords, WrongWords } from '../words';

/** Depth from one kind of file into another; with distances, floats are metric. */
export async function depthConvert(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    in: { type: 'string' },
    out: { type: 'string' },
    'near-distance': { type: 'string' },
    'far-distance': { type: 'string' },
    invert: { type: 'boolean' },
  });
  const from = needed('in', given.in);
  const to = needed('out', given.out);
  const range = rangeOf(given['near-distance'], given['far-distance']);
  const map = await readDepthFile(from, basename(from), {
    whiteIsNear: !given.invert,
    mend: false,
    ...(range ? { floats: { kind: 'distance', ...range } } : {}),
  });
  await writeDepthFile(to, map, range);
}

function rangeOf(near: string | undefined, far: string | undefined): DistanceRange | undefined {
  if (near === undefined && far === undefined) return undefined;
  if (near === undefined || far === undefined) throw new WrongWords('--near-distance and --far-distance go together.');
  const range = { near: number('near-distance', near), far: number('far-distance', far) };
  requireRange(range);
  return range;
}
