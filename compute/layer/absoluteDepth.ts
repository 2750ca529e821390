import type { Rect } from '@/core/raster/geometry';
import type { DepthMap } from '@/core/raster/picture';
import { drawnOf, type SceneFrame } from '@/core/scene/sceneOf';
import type { LayerPlate } from './place';

/**
 * Depth of what is seen from the source, over the whole ruler (0 farthest to 65535 nearest): every plate's map through its own
 * span, nearer plates over farther ones wherever their mattes cover half or more. Kept while nothing that decides it changes.
 */
export class AbsoluteDepth {
  private known: { readonly spans: string; readonly map: DepthMap } | undefined;

  /** @param back the back plate's map */
  constructor(private readonly back: DepthMap) {}

  /** The next map is made anew. */
  forget(): void {
    this.known = undefined;
  }

  map(scene: SceneFrame, plates: readonly LayerPlate[]): DepthMap {
    const drawn = drawnOf(scene).filter((p) => plates.some((l) => l.id === p.id));
    const { near, far } = scene.back;
    if (drawn.length === 0 && near === 1 && far === 0) return this.back;
    const spans = [[near, far], ...drawn.map((p) => [p.id, p.near, p.far])].join(' ');
    if (this.known?.spans !== spans) {
      const { width, height } = this.back;
      const map = { width, height, data: new Uint16Array(width * height) };
      this.draw(map, scene, plates, { left: 0, top: 0, right: width, bottom: height });
      this.known = { spans, map };
    }
    return this.known.map;
  }

  /** Takes up what has changed in a rectangle of some map. */
  touch(scene: SceneFrame, plates: readonly LayerPlate[], rect: Rect): void {
    if (this.known) this.draw(this.known.map, scene, plates, rect);
  }

  private draw(map: DepthMap, scene: SceneFrame, plates: readonly LayerPlate[], rect: Rect): void {
    const { width, data } = map;
    const surfaces = [
      { ...scene.back, matte: undefined, depth: this.back },
      ...drawnOf(scene).flatMap((p) => {
        const held = plates.find((l) => l.id === p.id);
        return held ? [{ ...p, matte: held.matte.data, depth: held.depth }] : [];
      }),
    ];
    for (const { near, far, matte, depth } of surfaces) {
      const low = far * 65535;
      const span = near - far;
      for (let y = rect.top; y < rect.bottom; y++) {
        for (let i = y * width + rect.left; i < y * width + rect.right; i++)
          if (matte === undefined || matte[i] >= 128) data[i] = low + span * depth.data[i];
      }
    }
  }
}
