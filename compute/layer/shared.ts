import type { ShotRasters } from '@/core/shot/rasters';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';

// Rasters in memory that both workers see.

function blank(width: number, height: number): Picture8 {
  return { width, height, data: new Uint8Array(new SharedArrayBuffer(width * height * 4)) };
}

export function sharePicture(picture: Picture8): Picture8 {
  const shared = blank(picture.width, picture.height);
  shared.data.set(picture.data);
  return shared;
}

export function shareMap(map: DepthMap): DepthMap {
  const data = new Uint16Array(new SharedArrayBuffer(map.data.byteLength));
  data.set(map.data);
  return { width: map.width, height: map.height, data };
}

export function shareBuffers(width: number, height: number): ViewBuffers<Picture8> {
  return {
    picture: blank(width, height),
    revealed: { width, height, data: new Uint8Array(new SharedArrayBuffer(width * height)) },
  };
}

/** Laid-out rasters in shared memory; those that are shared already (of a shot without plates) stay themselves. @param copy the picture is copied in any case: it will be drawn on */
export function shareRasters(
  rasters: ShotRasters<Picture8>,
  picture: Picture8,
  depth: DepthMap,
  copy: boolean,
): ShotRasters<Picture8> {
  return {
    picture: rasters.picture === picture && !copy ? picture : sharePicture(rasters.picture),
    depth: rasters.depth === depth ? depth : shareMap(rasters.depth),
    ...(rasters.hole ? { hole: rasters.hole } : {}),
    plates: rasters.plates.map((p) => ({ ...p, picture: sharePicture(p.picture), depth: shareMap(p.depth) })),
  };
}
