import { CoreError } from '../error';
import { boundsOf } from '../raster/bounds';
import { copyPicture, requireSameSize, type Mask, type Picture } from '../raster/picture';
import { smoothFill } from './smoothFill';

/**
 * A picture with a hole filled smoothly, for skies and walls: a membrane, which meets its seam exactly.
 * @param hole 128 and more: fill
 * @param ignore 128 and more: has no part in it @default nothing
 * @throws CoreError `no-hole`, `nothing-to-sample`, `size-differs`
 */
export function smoothArea<P extends Picture>(picture: P, hole: Mask, ignore?: Mask): P {
  requireSameSize('The hole', hole, 'the picture', picture);
  const { width, height } = picture;
  const isOpen = (i: number): boolean => hole.data[i] >= 128 || (ignore !== undefined && ignore.data[i] >= 128);
  const near = boundsOf(width, height, (i) => hole.data[i] >= 128, 1);
  if (!near) throw new CoreError('no-hole', 'There is nothing to fill: the hole has no white pixel.');
  // What lies beside it may be of no account: then as far as that goes.
  const around = (ignore && boundsOf(width, height, isOpen, 1)) ?? near;
  const { left, top, right, bottom } = around;
  const w = right - left;
  const h = bottom - top;
  const values = new Float32Array(w * h * 4);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, j = (top + y) * width + left; x < w; x++, i++, j++) {
      open[i] = isOpen(j) ? 1 : 0;
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
  for (let i = 0; i < open.length; i++) {
    const j = (top + Math.floor(i / w)) * width + left + (i % w);
    if (hole.data[j] >= 128) for (let c = 0; c < 3; c++) out.data[j * 4 + c] = Math.round(values[i * 4 + c]);
  }
  return out;
}
