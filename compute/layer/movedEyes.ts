import type { Remote } from 'comlink';
import type { MovedView } from '@/core/move/openMove';
import type { Premultiplied8 } from '@/core/raster/picture';
import type { SceneAt } from '@/core/scene/sceneAt';
import type { ShotRasters } from '@/core/shot/rasters';
import type { EyeApi } from '../eye.worker';
import { Mover } from './mover';
import type { LayerPlace } from './place';
import { shareBuffers } from './shared';

/** A moment that one eye sees. */
export interface Moment {
  readonly scene: SceneAt;
  readonly eye: number | null;
}

/** Sees moments of a layer's move, two at a time where there is a second worker. */
export class MovedEyes {
  private mover: Mover;
  private rooms: readonly [MovedView<Premultiplied8>, MovedView<Premultiplied8>] | undefined;

  /** @param key the layer's number in the second worker */
  constructor(
    private readonly key: number,
    private readonly second: Remote<EyeApi> | undefined,
    place: LayerPlace,
  ) {
    this.mover = new Mover(place);
  }

  /** The rasters have been painted on. */
  forget(): void {
    this.mover = this.mover.anew();
    void this.second?.moveAnew(this.key);
  }

  /** One or two moments, at the same time; what is seen stays until the next are asked for. */
  async see(rasters: ShotRasters<Premultiplied8>, moments: readonly Moment[]): Promise<readonly Premultiplied8[]> {
    const { width, height } = rasters.picture;
    this.rooms ??= [roomOf(width, height), roomOf(width, height)];
    const [here, there] = this.rooms;
    const [first, other] = moments;
    const beside = other && this.second?.move(this.key, other.scene, other.eye, there);
    this.mover.render(rasters, first.scene, first.eye, here);
    if (other && !beside) this.mover.render(rasters, other.scene, other.eye, there);
    await beside;
    return moments.map((_, n) => this.rooms![n].picture);
  }
}

function roomOf(width: number, height: number): MovedView<Premultiplied8> {
  const { picture, revealed } = shareBuffers(width, height);
  return { picture, state: revealed };
}
