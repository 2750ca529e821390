import { boundsOf } from '../raster/bounds';
import { isDeep, requireSameSize, type Mask, type Picture } from '../raster/picture';
import { smoothFill } from './smoothFill';

/**
 * Puts a piece into a picture with the piece's own gradients: where the mask is in, the outcome has the differences between
 * neighbours of the piece, and meets the picture at the mask's border.
 *
 * Source: Perez, Gangnet and Blake, "Poisson image editing", SIGGRAPH 2003: with the piece's gradients as guide the
 * solution is the
 * piece plus the membrane of what picture and piece differ by along the border.
 * @param mask 128 and more: in. Where it reaches the picture's own border the piece stays free there.
 * @param picture changed in place; alpha stays
 * @throws CoreError `size-differs`
 */
export function seamlessClone(picture: Picture, piece: Picture, mask: Mask): void {
  requireSameSize('The piece', piece, 'the picture', picture);
  requireSameSize('The mask', mask, 'the picture', picture);
  const { width, height, data } = picture;
  const most = isDeep(picture) ? 65535 : 255;
  const scale = most / (isDeep(piece) ? 65535 : 255);
  const around = boundsOf(width, height, (i) => mask.data[i] >= 128, 1);
  if (!around) return;
  const { left, top, right, bottom } = around;
  const w = right - left;
  const h = bottom - top;
  const apart = new Float32Array(w * h * 4);
  const open = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, j = (top + y) * width + left; x < w; x++, i++, j++) {
      open[i] = mask.data[j] >= 128 ? 1 : 0;
      for (let c = 0; c < 3; c++) apart[i * 4 + c] = data[j * 4 + c] - piece.data[j * 4 + c] * scale;
    }
  }
  smoothFill(apart, open, { width: w, height: h, channels: 4, sweeps: 40 });
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0, j = (top + y) * width + left; x < w; x++, i++, j++) {
      if (open[i])
        for (let c = 0; c < 3; c++)
          data[j * 4 + c] = Math.min(most, Math.max(0, Math.round(piece.data[j * 4 + c] * scale + apart[i * 4 + c])));
    }
  }
}
