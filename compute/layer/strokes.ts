import { BrushStroke, type BrushSettings, type StrokePoint } from '@/core/depth/brush';
import { applyDepthEdit, type DepthEdit } from '@/core/depth/edits';
import type { DepthWindow } from '@/core/depth/window';
import type { Rect } from '@/core/raster/geometry';
import type { DepthMap } from '@/core/raster/picture';
import type { LayerPlace } from './place';

/** Which depth a brush works on: a plate's, the back plate's (null), or the back plate's behind the plates. */
export type Target = string | null;
export const BEHIND = 'behind';

/** Strokes and other edits on a layer's depth maps, in place. */
export class Strokes {
  private open: BrushStroke | undefined;

  constructor(
    private readonly place: LayerPlace,
    private readonly depthOf: (target: Target) => DepthMap | undefined,
    private readonly colours: () => Uint8Array | Uint8ClampedArray,
  ) {}

  private window(target: Target): DepthWindow | undefined {
    const map = this.depthOf(target);
    const { left, top, scale } = this.place;
    return map && { left, top, scale, width: map.width, height: map.height, data: map.data, colours: this.colours() };
  }

  begin(settings: BrushSettings, target: Target): void {
    const window = this.window(target);
    this.open = window && new BrushStroke(window, settings);
  }

  /** @returns what has changed, px of the layer */
  add(points: readonly StrokePoint[]): Rect | undefined {
    return this.open?.add(points);
  }

  end(): void {
    this.open = undefined;
  }

  apply(edit: DepthEdit, target: Target): void {
    const window = this.window(target);
    if (window) applyDepthEdit(window, edit);
  }
}
