import type { Size } from '../kind';
import type { Place } from '../raster/geometry';

/** The part of a source that fills frames of a size: as much as fits, from the middle. */
export function coverWindow(source: Size, { width, height }: Size): { readonly size: Size; readonly window: Place } {
  const scale = Math.max(width / source.width, height / source.height);
  return {
    size: { width, height },
    window: {
      left: (source.width - width / scale) / 2,
      top: (source.height - height / scale) / 2,
      scale,
    },
  };
}
