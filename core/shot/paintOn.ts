import type { Painted, ShotRasters } from './rasters';
import type { Rect } from '../raster/geometry';
import { copyPicture, isDeep, type Mask, type Premultiplied } from '../raster/picture';

export interface PaintOnOptions {
  /** Of the same rows as the picture, 255 where nearer plates hide it. @default that is nowhere */
  readonly hidden?: Mask | undefined;
  /** The canvas row that the picture begins with. @default 0 */
  readonly top?: number;
  /** Where, on the canvas. @default all rows of the picture */
  readonly rect?: Rect;
}

/**
 * Lays what hands and machine have put on a plate over it, in place: the fill where nearer plates hide it, the
 * overpaint over its own
 * pixels, by their coverage. A plate's own transparency stays; what is filled becomes as whole as its fill.
 *
 * @param picture the plate's rows, premultiplied
 */
export function paintOn(picture: Premultiplied, { fill, overpaint }: Painted, options: PaintOnOptions = {}): void {
  const { width, data } = picture;
  const { hidden, top = 0 } = options;
  const { rect = { left: 0, top, right: width, bottom: top + picture.height } } = options;
  const most = isDeep(picture) ? 65535 : 255;
  for (let y = Math.max(top, rect.top); y < Math.min(top + picture.height, rect.bottom); y++) {
    for (let x = rect.left; x < rect.right; x++) {
      const i = (y - top) * width + x;
      const o = i * 4;
      const behind = hidden !== undefined && hidden.data[i] !== 0;
      const upper = behind ? fill : overpaint;
      if (!upper) continue;
      const u = (y * width + x) * 4;
      const a = upper.data[u + 3] / most;
      if (a === 0) continue;
      const cover = behind ? a : (a * data[o + 3]) / most;
      for (let c = 0; c < 3; c++) data[o + c] = Math.round(data[o + c] * (1 - a) + upper.data[u + c] * cover);
      if (behind) data[o + 3] = Math.round(data[o + 3] + (most - data[o + 3]) * a);
    }
  }
}

/**
 * Lays what was put on each plate (id null: on the back plate) over a shot's bare plates, in place; a picture that is
 * the source's own is copied first.
 */
export function paintPlates<P extends Premultiplied>(
  rasters: ShotRasters<P>,
  source: P,
  painted: readonly (Painted & { readonly id: string | null })[],
): ShotRasters<P> {
  let { picture } = rasters;
  for (const put of painted) {
    if (!put.fill && !put.overpaint) continue;
    if (put.id !== null) {
      for (const p of rasters.plates) if (p.id === put.id) paintOn(p.picture, put, p);
    } else if (rasters.hole || put.overpaint) {
      if (picture === source) picture = copyPicture(source);
      paintOn(picture, put, { hidden: rasters.hole });
    }
  }
  return picture === rasters.picture ? rasters : { ...rasters, picture };
}
