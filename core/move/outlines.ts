import type { DepthMap, Mask, Premultiplied8 } from '../raster/picture';
import type { ShotRasters } from '../shot/rasters';
import { traceRings } from '../matte/rings';
import { drawnOf, type SceneFrame } from '../scene/sceneOf';

/** The border of something of a scene: places of the source with their depths on the ruler, one after another, closed. */
export interface Outline {
  /** x, y in px of the source, and the depth there, 1 nearest to 0 farthest, three numbers a place. */
  readonly places: Float32Array;
}

/** Borders are followed on a grid so much coarser: leaves and slats become a line that can be read. */
const COARSE = 4;
/** Smaller rings are left out, grid px. */
const SMALLEST = 10;

/** The borders of a shot's plates; of a shot without plates, of its nearer half. @param scale raster px a px of the source */
export function outlinesOf(rasters: ShotRasters<Premultiplied8>, scene: SceneFrame, scale: number): Outline[] {
  const plates = drawnOf(scene).flatMap(({ id, near, far }) => {
    const found = rasters.plates.find((p) => p.id === id);
    if (!found) return [];
    const { width, height, data } = found.picture;
    const mask: Mask = { width, height, data: new Uint8Array(width * height) };
    for (let i = 0; i < mask.data.length; i++) mask.data[i] = data[i * 4 + 3];
    return ringsOf(mask, found.depth, { near, far, top: found.top, scale });
  });
  if (plates.length > 0) return plates;
  const { depth } = rasters;
  const { width, height, data } = depth;
  let least = 65535;
  let most = 0;
  for (const v of data) {
    if (v < least) least = v;
    if (v > most) most = v;
  }
  if (least === most) return [];
  const half = (least + most) / 2;
  const mask: Mask = { width, height, data: Uint8Array.from(data, (v) => (v > half ? 255 : 0)) };
  return ringsOf(mask, depth, { ...scene.back, top: 0, scale });
}

/** From the least to the most of values, of which there may be very many. */
const extent = (values: readonly number[]): number =>
  values.reduce((most, v) => Math.max(most, v), -Infinity) - values.reduce((least, v) => Math.min(least, v), Infinity);

interface Placed {
  readonly near: number;
  readonly far: number;
  readonly top: number;
  readonly scale: number;
}

/** A mask on the coarse grid: what at least half covers. */
function coarse({ width, height, data }: Mask): Mask {
  const across = Math.ceil(width / COARSE);
  const down = Math.ceil(height / COARSE);
  const sums = new Float64Array(across * down);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) sums[Math.floor(y / COARSE) * across + Math.floor(x / COARSE)] += data[i];
  const half = 127.5 * COARSE * COARSE;
  return { width: across, height: down, data: Uint8Array.from(sums, (v) => (v >= half ? 255 : 0)) };
}

function ringsOf(mask: Mask, depth: DepthMap, { near, far, top, scale }: Placed): Outline[] {
  const { width, height } = mask;
  return traceRings(coarse(mask)).flatMap((ring) => {
    if (extent(ring.map((p) => p.x)) < SMALLEST && extent(ring.map((p) => p.y)) < SMALLEST) return [];
    const kept: number[] = [];
    ring.forEach((corner, n) => {
      // The middles of the sides: steps of the grid become slopes.
      const next = ring[(n + 1) % ring.length];
      const x = Math.min(width, ((corner.x + next.x) / 2) * COARSE);
      const y = Math.min(height, ((corner.y + next.y) / 2) * COARSE);
      kept.push(x / scale - 0.5, (y + top) / scale - 0.5, far + (near - far) * inside(Math.round(x), Math.round(y)));
    });
    return [{ places: Float32Array.from(kept) }];
  });

  /** Depth of the covered pixel nearest to a place on the border, as far as the grid may be beside it. */
  function inside(x: number, y: number): number {
    for (let reach = 0; reach <= COARSE; reach++)
      for (let dy = -reach; dy <= reach; dy++)
        for (let dx = -reach; dx <= reach; dx++) {
          if (Math.max(Math.abs(dx), Math.abs(dy)) !== reach) continue;
          const [px, py] = [x + dx, y + dy];
          if (px >= 0 && py >= 0 && px < width && py < height && mask.data[py * width + px] >= 128)
            return depth.data[py * width + px] / 65535;
        }
    return 0;
  }
}
