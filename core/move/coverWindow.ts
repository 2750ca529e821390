import type { Size } from '../kind';
import type { Place } from '../raster/geometry';

/** The part of a source that fills frames of a size: as much as fits, from the middle. */
export function coverWindow(source: Size, size: Size): { readonly size: Size; readonly window: Place } {
  const scale = Math.max(size.width / source.width, size.height / source.height);
  return {
    size,
    window: {
      left: (source.width - size.width / scale) / 2,
      top: (source.height - size.height / scale) / 2,
      scale,
    },
  };
}
