import type { LayerPlate } from './layer/place';
import type { DepthMap } from '@/core/raster/picture';
import { drawnPlates } from '@/core/shot/document';
import type { StereoPart } from '@/core/view/renderView';

/**
 * Depth of what is seen from the source, over the whole ruler (0 farthest to 65535 nearest): every plate's map through its own
 * span, nearer plates over farther ones wherever their mattes cover half or more.
 */
export function absoluteDepth(document: StereoPart, back: DepthMap, plates: readonly LayerPlate[]): DepthMap {
  const { near, far } = document.depth;
  const drawn = drawnPlates(document.plates).filter((p) => plates.some((l) => l.id === p.id));
  if (drawn.length === 0 && near === 1 && far === 0) return back;
  const data = new Uint16Array(back.data.length);
  for (let i = 0; i < data.length; i++) data[i] = far * 65535 + (near - far) * back.data[i];
  for (const plate of drawn) {
    const { matte, depth } = plates.find((l) => l.id === plate.id)!;
    const low = plate.depth.far * 65535;
    const span = plate.depth.near - plate.depth.far;
    for (let i = 0; i < data.length; i++) if (matte.data[i] >= 128) data[i] = low + span * depth.data[i];
  }
  return { width: back.width, height: back.height, data };
}
