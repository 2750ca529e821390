import { CoreError } from '../error';
import { boundsOf } from '../raster/bounds';
import { copyPicture, requireSameSize, type Mask, type Picture } from '../raster/picture';
import { continueFill, type ContinueOptions } from './continuation/continueFill';
import { smoothFill } from './smoothFill';
import { textureFill } from './textureFill';

/** The first is the first answer. */
export const FILL_METHODS = ['continue', 'texture', 'smooth'] as const;
export type FillMethod = (typeof FILL_METHODS)[number];

/**
 * Fills a picture's hole by texture, with how its surroundings go on, or smoothly. Pixels outside the hole come out unchanged, bit for bit; alpha stays.
 * @param hole 128 and more: fill
 * @throws CoreError `no-hole`, `nothing-to-sample`, `size-differs`
 */
export function fillHole<P extends Picture>(
  picture: P,
  hole: Mask,
  method: FillMethod,
  options: ContinueOptions = {},
): P {
  if (method === 'continue') return continueFill(picture, hole, options);
  return method === 'texture' ? textureFill(picture, hole, options) : smoothArea(picture, hole);
}

/** A picture with a hole filled smoothly, for skies and walls: a membrane, which meets its seam exactly. */
function smoothArea<P extends Picture>(picture: P, hole: Mask): P {
  requireSameSize('The hole', hole, 'the picture', picture);
  const { width, height } = picture;
  const around = boundsOf(width, height, (i) => hole.data[i] >= 128, 1);
  if (!around) throw new CoreError('no-hole', 'There is nothing to fill: the hole has no white pixel.');
  const { left, top, right, bottom } = around;
  const w = right - left;
  const h = bottom - top;
  const values = new Float32Array(w * h * 4);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, j = (top + y) * width + left; x < w; x++, i++, j++) {
      open[i] = hole.data[j] >= 128 ? 1 : 0;
      for (let c = 0; c < 3; c++) values[i * 4 + c] = picture.data[j * 4 + c];
    }
  }
  if (!open.includes(0))
    throw new CoreError(
      'nothing-to-sample',
      'The hole covers the whole picture: there is nothing around it to fill from.',
    );
  smoothFill(values, open, { width: w, height: h, channels: 4, sweeps: 40 });
  const out = copyPicture(picture);
  for (let i = 0; i < open.length; i++)
    if (open[i]) {
      const j = ((top + Math.floor(i / w)) * width + left + (i % w)) * 4;
      for (let c = 0; c < 3; c++) out.data[j + c] = Math.round(values[i * 4 + c]);
    }
  return out;
}
