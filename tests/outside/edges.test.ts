import { join } from 'node:path';
import { AT_REST } from '@/core/camera/pose';
import { movedView, openMove } from '@/core/move/openMove';
import type { Premultiplied8 } from '@/core/raster/picture';
import { wholeScene } from '@/core/scene/sceneAt';
import { renderView } from '@/core/view/renderView';
import { ROOT } from '../support/cli';
import { readMap, readPicture } from '../support/pictures';

// Four frames of the ray-traced clip, none of them looked at while the parting of edges was made: right eyes from the centre
// and its exact depth, against the true right eyes (tests/data/clip, truth.json).

const CLIP = join(ROOT, 'tests/data/clip');
// truth.json: disparity_px_at_white_centre_to_one_eye 15.75.
const budget = { nearPx: -31.5, farPx: 0 };

function psnr(a: Premultiplied8, b: Premultiplied8): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) if (i % 4 !== 3) sum += (a.data[i] - b.data[i]) ** 2;
  return 10 * Math.log10((255 * 255) / (sum / ((a.data.length * 3) / 4)));
}

describe.each(['0012', '0024', '0036', '0048'])('frame %s', (frame) => {
  let scores: Record<'stereo' | 'moved', { mixed: number; parted: number }>;
  beforeAll(async () => {
    const source = await readPicture(join(CLIP, `frame_${frame}.png`));
    const truth = await readPicture(join(CLIP, `right_${frame}.png`));
    const rasters = { picture: source, depth: await readMap(join(CLIP, `depth_${frame}.png`)), plates: [] };
    const move = openMove(rasters);
    const seen = movedView(source, source);
    const scored = (partEdges: boolean) => {
      const scene = wholeScene({
        ...{ budget, sourceEye: 'centre', swapEyes: false, tearPx: 2, partEdges },
        ...{ source: { width: source.width, height: source.height }, depth: { near: 1, far: 0 }, plates: [] },
      });
      move.render({ ...scene, pose: AT_REST }, 0.5, seen);
      return { stereo: psnr(renderView(scene, rasters, 0.5).picture, truth), moved: psnr(seen.picture, truth) };
    };
    const [mixed, parted] = [scored(false), scored(true)];
    scores = {
      stereo: { mixed: mixed.stereo, parted: parted.stereo },
      moved: { mixed: mixed.moved, parted: parted.moved },
    };
    if (process.env.CORK_TABLES) console.info(frame, scores);
  });

  test('the stereo view gains half a dB and more by parting its edges', () => {
    expect(scores.stereo.parted).toBeGreaterThan(scores.stereo.mixed + 0.5);
  });

  test('so does what a moved camera sees', () => {
    expect(scores.moved.parted).toBeGreaterThan(scores.moved.mixed + 0.5);
  });
});
