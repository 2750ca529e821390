import { isDeep, pictureOf, type DepthMap, type Picture, type Picture16, type Premultiplied } from '../raster/picture';
import { drawnOf, type SceneFrame, type Surface } from '../scene/sceneOf';
import type { ShotRasters } from '../shot/rasters';
import { synthesizeView, type ViewGeometry } from '../stereo/synthesizeView';
import { geometryOf } from './geometryOf';

/**
 * Depth on the ruler of what a view shows: each plate's own depth goes through the same mesh as its colours, nearer
 * plates over farther
 * ones wherever they cover half or more. What is revealed has the depth of its farther side.
 *
 * @param eye -1/2 left to +1/2 right
 * @param scale raster px per source px
 * @returns 0 farthest to 65535 nearest
 */
export function viewDepth(
  scene: SceneFrame,
  rasters: ShotRasters<Premultiplied>,
  eye: number,
  scale: number,
): DepthMap {
  const { width, height } = rasters.picture;
  const ground = synthesizeView(
    depthPicture(rasters.depth, scene.back),
    rasters.depth,
    depthGeometry(scene, scene.back, eye, scale),
  );
  const data = new Uint16Array(width * height);
  for (let i = 0; i < data.length; i++) data[i] = ground.picture.data[i * 4];
  for (const plate of drawnOf(scene)) {
    const raster = rasters.plates.find((r) => r.id === plate.id);
    if (!raster) continue;
    const pixels = depthPicture(raster.depth, plate, raster.picture);
    const seen = synthesizeView(pixels, raster.depth, depthGeometry(scene, plate, eye, scale)).picture.data;
    const from = raster.top * width;
    // Values travel premultiplied by coverage; where half and more is covered they are the plate's.
    for (let i = 0; i < raster.depth.data.length; i++)
      if (seen[i * 4 + 3] >= 32768)
        data[from + i] = Math.min(65535, Math.round((seen[i * 4] * 65535) / seen[i * 4 + 3]));
  }
  return { width, height, data };
}

/** Depths are never mixed: px beside a jump have the nearer one, as where a view shows them. */
const depthGeometry = (scene: SceneFrame, surface: Surface, eye: number, scale: number): ViewGeometry => ({
  ...geometryOf(scene, surface, eye, { scale, holes: 'row' }),
  edges: 'grown',
});

/** A map's depth on the ruler as a picture, premultiplied by what a plate covers. */
function depthPicture(
  { width, height, data }: DepthMap,
  { near, far }: Surface,
  cover?: Picture,
): Picture16<'premultiplied'> {
  const out = new Uint16Array(data.length * 4);
  const step = cover && !isDeep(cover) ? 257 : 1;
  for (let i = 0; i < data.length; i++) {
    const alpha = cover ? cover.data[i * 4 + 3] * step : 65535;
    out[i * 4] = Math.round(((far * 65535 + (near - far) * data[i]) * alpha) / 65535);
    out[i * 4 + 3] = alpha;
  }
  return pictureOf({ width, height }, out, 'premultiplied');
}
