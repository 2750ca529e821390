import type { Size } from '@/core/kind';
import type { Rect } from '@/core/raster/geometry';
import type { RasterNames } from '../look';
import type { LayerPlace } from './place';

/** Longest side of the preview of a whole picture, px. */
export const PREVIEW_SIDE = 1280;

/** A rectangle of a shot at a scale, all of it shown. */
export const placeOf = (rect: Rect, scale: number): LayerPlace => ({ ...rect, shown: rect, scale });

/** A whole picture, its longest side at most `side` px. */
export function wholePlace({ width, height }: Size, side: number): LayerPlace {
  return placeOf({ left: 0, top: 0, right: width, bottom: height }, Math.min(1, side / Math.max(width, height)));
}

/** Size of a layer, px. */
export function sizeOf({ left, top, right, bottom, scale }: Omit<LayerPlace, 'shown'>): Size {
  return {
    width: Math.max(1, Math.round((right - left) * scale)),
    height: Math.max(1, Math.round((bottom - top) * scale)),
  };
}

function query(place: LayerPlace): string {
  const { left, top, right, bottom } = place;
  const numbers = { left, top, right, bottom, ...sizeOf(place) };
  return new URLSearchParams(Object.entries(numbers).map(([k, v]) => [k, String(v)])).toString();
}

/** Where the page finds rasters of a shot in a place. What an address names never changes. */
export const addressesIn = (shotId: string, place: LayerPlace) => ({
  picture: ({ media, moment }: Pick<RasterNames, 'media' | 'moment'>): string =>
    `/api/shots/${shotId}/picture?media=${media}&${moment === undefined ? '' : `frame=${moment}&`}${query(place)}`,
  depth: (revision: string): string => `/api/shots/${shotId}/depth?revision=${revision}&${query(place)}`,
  matte: (revision: string): string => `/api/shots/${shotId}/depth?revision=${revision}&${query(place)}&as=matte`,
  painted: (revision: string): string => `/api/shots/${shotId}/fill?revision=${revision}&${query(place)}`,
});

/**
 * What of a shot's first picture can be fetched while the room's own code is on its way: what every shot has. More
 * would hold that code up.
 */
export function addressesAhead(shotId: string, source: Size, names: RasterNames): string[] {
  const at = addressesIn(shotId, wholePlace(source, PREVIEW_SIDE));
  return [at.picture(names), at.depth(names.depth)];
}
