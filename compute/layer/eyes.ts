import type { Remote } from 'comlink';
import type { Premultiplied8 } from '@/core/raster/picture';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { ShotRasters } from '@/core/shot/rasters';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';
import { renderView } from '@/core/view/renderView';
import { stripeReveal } from '../draw/reveal';
import type { EyeApi } from '../eye.worker';
import type { LayerPlace } from './place';
import { shareBuffers } from './shared';

/** Which eye: 0 left, 1 right. */
export type Which = 0 | 1;

/** Renders a layer's views: the left eye here and, where there is one, the right eye in a second worker at the same time. */
export class Eyes {
  private buffers: readonly [ViewBuffers<Premultiplied8>, ViewBuffers<Premultiplied8>] | undefined;

  /** @param key the layer's number in the second worker */
  constructor(
    private readonly key: number,
    private readonly second: Remote<EyeApi> | undefined,
    private readonly place: LayerPlace,
  ) {}

  /** Room for both views, in shared memory. */
  open(width: number, height: number): readonly [ViewBuffers<Premultiplied8>, ViewBuffers<Premultiplied8>] {
    this.buffers ??= [shareBuffers(width, height), shareBuffers(width, height)];
    return this.buffers;
  }

  /** Hands the second worker what the layer is rendered from. */
  async take(rasters: ShotRasters<Premultiplied8>): Promise<void> {
    await this.second?.take(this.key, rasters, this.buffers![1], this.place);
  }

  /** Frees what the second worker holds. */
  end(): void {
    void this.second?.forget(this.key);
  }

  picture(which: Which): Premultiplied8 {
    return this.buffers![which].picture;
  }

  /** One view; returns the share of pixels that it reveals. @param mark they are striped */
  render(scene: SceneFrame, rasters: ShotRasters<Premultiplied8>, which: Which, mark: boolean): number {
    const { revealedCount, picture, revealed } = renderView(scene, rasters, which - 0.5, {
      scale: this.place.scale,
      out: this.buffers![which],
    });
    if (mark) stripeReveal(picture, revealed);
    return revealedCount / (picture.width * picture.height);
  }

  /** Both views; returns the larger share of revealed pixels. */
  async both(scene: SceneFrame, rasters: ShotRasters<Premultiplied8>, mark: boolean): Promise<number> {
    const beside = this.second?.render(this.key, scene, 0.5, this.place.scale);
    const here = this.render(scene, rasters, 0, mark);
    if (!beside) return Math.max(here, this.render(scene, rasters, 1, mark));
    const { picture, revealed } = this.buffers![1];
    const there = (await beside) / (picture.width * picture.height);
    if (mark) stripeReveal(picture, revealed);
    return Math.max(here, there);
  }
}
