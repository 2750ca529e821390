import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import sharp from 'sharp';
import { ANAGLYPHS } from '@/core/packing/anaglyph';
import { corkTwin, ROOT, scratch } from '../support/cli';

// Packings against FFmpeg's stereo3d filter on the same two pictures, at most 1 of 255 apart.

const FILTER: Record<string, string> = {
  'red-cyan-least-squares': 'arcd',
  'red-cyan-grey': 'arcg',
  'red-cyan-half-colour': 'arch',
  'red-cyan-colour': 'arcc',
  'side-by-side': 'sbsl',
  'over-under': 'abl',
};
const left = join(ROOT, 'tests/data/orangery/left.png');
const right = join(ROOT, 'tests/data/orangery/right.png');

test.each([...ANAGLYPHS, 'side-by-side', 'over-under'])('%s is what FFmpeg makes of it', async (as) => {
  const out = join(scratch(), 'packed.png');
  expect(corkTwin('pack', '--left', left, '--right', right, '--as', as, '--out', out)).toMatchObject({
    status: 0,
    err: '',
  });
  const ours = await sharp(out).raw().toBuffer({ resolveWithObject: true });
  expect(ours.info.channels).toBe(3);
  const filter = `[0:v][1:v]hstack,format=rgb24,stereo3d=sbsl:${FILTER[as]},format=rgb24`;
  const theirs = execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      left,
      '-i',
      right,
      '-filter_complex',
      as === 'side-by-side' ? '[0:v][1:v]hstack,format=rgb24' : filter,
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ],
    { maxBuffer: 1 << 28 },
  );
  expect(ours.data.length).toBe(theirs.length);
  let worst = 0;
  // No call in this loop: under Jest a look-up of Math for each of five million bytes takes seconds.
  for (let i = 0; i < theirs.length; i++) {
    const e = ours.data[i] > theirs[i] ? ours.data[i] - theirs[i] : theirs[i] - ours.data[i];
    if (e > worst) worst = e;
  }
  expect(worst).toBeLessThanOrEqual(1);
});
