import { cropPicture } from '@/core/raster/crop';
import type { Rect } from '@/core/raster/geometry';
import { drawnOf } from '@/core/scene/sceneOf';
import type { LaidOut } from '../layer/lookBehind';

/** A rectangle of a layer with the plates that are nearer than `active` pushed aside by so many px at the source's width. */
export function drawAside(
  { scene, rasters, scale }: LaidOut,
  active: string | null,
  asidePx: number,
  rect: Rect,
): Uint8ClampedArray {
  const { width } = rasters.picture;
  const { left, top, right, bottom } = rect;
  const w = right - left;
  const drawn = drawnOf(scene);
  const at = drawn.findIndex((p) => p.id === active);
  const data = new Uint8ClampedArray(cropPicture(rasters.picture, rect).data);
  drawn.forEach((p, n) => {
    const raster = rasters.plates.find((r) => r.id === p.id);
    if (!raster) return;
    // What lies nearer steps aside; the one in work, and what lies behind it, stay.
    const aside = n > at ? Math.round(asidePx * scale) : 0;
    const px = raster.picture.data;
    const first = Math.max(left, aside);
    const end = Math.min(right, width + aside);
    for (let y = Math.max(top, raster.top); y < Math.min(bottom, raster.top + raster.picture.height); y++) {
      for (
        let x = first, i = ((y - raster.top) * width + x - aside) * 4, o = ((y - top) * w + x - left) * 4;
        x < end;
        x++, i += 4, o += 4
      ) {
        const a = px[i + 3];
        if (a === 0) continue;
        for (let c = 0; c < 3; c++) data[o + c] = px[i + c] + (data[o + c] * (255 - a)) / 255;
      }
    }
  });
  return data;
}
