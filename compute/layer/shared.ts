import type { ShotRasters } from '@/core/shot/rasters';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';
import { pictureOf, type DepthMap, type Premultiplied8 } from '@/core/raster/picture';

// Rasters in memory that both workers see.

function blank(width: number, height: number): Premultiplied8 {
  return pictureOf({ width, height }, new Uint8Array(new SharedArrayBuffer(width * height * 4)), 'premultiplied');
}

export function sharePicture(picture: Premultiplied8): Premultiplied8 {
  const shared = blank(picture.width, picture.height);
  shared.data.set(picture.data);
  return shared;
}

export function shareMap(map: DepthMap): DepthMap {
  const data = new Uint16Array(new SharedArrayBuffer(map.data.byteLength));
  data.set(map.data);
  return { width: map.width, height: map.height, data };
}

export function shareBuffers(width: number, height: number): ViewBuffers<Premultiplied8> {
  return {
    picture: blank(width, height),
    revealed: { width, height, data: new Uint8Array(new SharedArrayBuffer(width * height)) },
  };
}

/**
 * Laid-out rasters in shared memory; those that are shared already (of a shot without plates) stay themselves. @param
 * copy the picture is copied in any case: it will be drawn on
 */
export function shareRasters(
  rasters: ShotRasters<Premultiplied8>,
  picture: Premultiplied8,
  depth: DepthMap,
  copy: boolean,
): ShotRasters<Premultiplied8> {
  return {
    picture: rasters.picture === picture && !copy ? picture : sharePicture(rasters.picture),
    depth: rasters.depth === depth ? depth : shareMap(rasters.depth),
    ...(rasters.hole ? { hole: rasters.hole } : {}),
    plates: rasters.plates.map((p) => ({ ...p, picture: sharePicture(p.picture), depth: shareMap(p.depth) })),
  };
}
