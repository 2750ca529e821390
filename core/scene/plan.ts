import type { Premultiplied8, DepthMap } from '../raster/picture';
import type { ShotRasters } from '../shot/rasters';
import { drawnOf, type SceneFrame, type Span } from './sceneOf';

/** What a plan shows across: the source's columns, seen from above, or its rows, seen from the side. */
export type PlanAxis = 'columns' | 'rows';

/** How finely a plan is drawn: across the source, and along the ruler. */
export interface PlanSize {
  readonly across: number;
  readonly along: number;
}

/** A surface as the plan shows it: where it has pixels across the source and along the ruler, from far to near. */
export interface PlanStrip extends PlanSize {
  /** The plate's; null: the back plate's. */
  readonly id: string | null;
  /** RGBA, straight: the mean colour of what lies there, the more opaque the more of it there is. */
  readonly data: Uint8ClampedArray;
  /** The first and the last place across where it has any; first > last where it has none. */
  readonly first: number;
  readonly last: number;
}

/** So many times the height of an even spread count as opaque. */
const FULL = 0.035;

/** A shot's surfaces from above or from the side, far to near. */
export function planOf(
  rasters: ShotRasters<Premultiplied8>,
  scene: SceneFrame,
  axis: PlanAxis,
  size: PlanSize,
): PlanStrip[] {
  const { width, height } = rasters.picture;
  const whole = { width, height };
  const back = { id: null, top: 0, picture: rasters.picture, depth: rasters.depth, span: scene.back };
  const plates = drawnOf(scene).flatMap((span) => {
    const found = rasters.plates.find(({ id }) => id === span.id);
    return found ? [{ ...found, span: span }] : [];
  });
  return [back, ...plates].map((surface) => stripOf(surface, whole, axis, size));
}

interface Placed {
  readonly id: string | null;
  /** Of the whole picture: its first row. */
  readonly top: number;
  readonly picture: Premultiplied8;
  readonly depth: DepthMap;
  readonly span: Span;
}

function stripOf(
  { id, top, picture, depth, span: { near, far } }: Placed,
  whole: { readonly width: number; readonly height: number },
  axis: PlanAxis,
  { across, along }: PlanSize,
): PlanStrip {
  const { width, height, data } = picture;
  const sums = new Float64Array(across * along * 4);
  const scale = across / (axis === 'columns' ? whole.width : whole.height);
  const step = ((near - far) * along) / 65536;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (data[i * 4 + 3] === 0) continue;
      const a = Math.floor((axis === 'columns' ? x : y + top) * scale);
      const d = Math.min(along - 1, Math.floor(far * along + depth.data[i] * step));
      const at = (d * across + a) * 4;
      for (let c = 0; c < 4; c++) sums[at + c] += data[i * 4 + c];
    }
  // So many pixels lie over one place across.
  const most = (255 * whole.width * whole.height) / across;
  const out = new Uint8ClampedArray(across * along * 4);
  let first = across;
  let last = -1;
  for (let at = 0; at < across * along; at++) {
    const cover = sums[at * 4 + 3];
    if (cover === 0) continue;
    for (let c = 0; c < 3; c++) out[at * 4 + c] = (255 * sums[at * 4 + c]) / cover;
    out[at * 4 + 3] = 255 * Math.min(1, Math.sqrt(cover / (most * FULL)));
    first = Math.min(first, at % across);
    last = Math.max(last, at % across);
  }
  return { id, across, along, data: out, first, last };
}
