import type { ShotRasters } from '@/core/shot/rasters';
import { revealMap, type Revealed } from '@/core/fill/revealMap';
import type { Premultiplied8 } from '@/core/raster/picture';
import { eyePositions } from '@/core/stereo/parallax';
import type { SceneFrame } from '@/core/scene/sceneOf';

/** Which reveal map is wanted. `stamp` says which laying out of the plates it belongs to. */
export interface RevealOrder {
  readonly scene: SceneFrame;
  readonly rasters: ShotRasters<Premultiplied8>;
  readonly scale: number;
  readonly views: number;
  readonly marginPx: number;
  readonly stamp: number;
}

/** Counts in another worker; undefined where a newer count was asked for meanwhile. @param marginPx raster px */
export type CountElsewhere = (
  scene: SceneFrame,
  eyes: readonly number[],
  marginPx: number,
) => Promise<readonly Revealed[] | undefined>;

/**
 * Keeps the newest reveal map of a layer while nothing that decides it changes, and has it counted in another worker
 * where there is one.
 */
export class RevealCounter {
  private known: { readonly stamp: number; readonly key: string; readonly found: readonly Revealed[] } = {
    stamp: -1,
    key: '',
    found: [],
  };
  private running: { readonly key: string; readonly views: number; readonly done: Promise<void> } | undefined;
  private newest = '';

  /** @param onCounted is told when a map has come from elsewhere */
  constructor(
    private readonly elsewhere?: CountElsewhere,
    private readonly onCounted?: () => void,
  ) {}

  /** The newest map that is known. */
  get found(): readonly Revealed[] {
    return this.known.found;
  }

  /** Takes over what another counter knows of the same plates. @param stamp their laying out there @param now and here */
  inherit(other: RevealCounter, stamp: number, now: number): void {
    if (other.known.stamp === stamp) this.known = { ...other.known, stamp: now };
  }

  /** Sees to it that a map is known; false where another was wanted meanwhile. Counts at once where there is no other worker. */
  async want(order: RevealOrder): Promise<boolean> {
    const { scene, rasters, scale, views, marginPx, stamp } = order;
    const what = `${scene.version} ${views} ${marginPx}`;
    const key = `${stamp} ${what}`;
    this.newest = key;
    if (stamp === this.known.stamp && what === this.known.key) return true;
    if (!this.elsewhere) {
      this.known = {
        stamp,
        key: what,
        found: revealMap(scene, rasters, eyePositions(views), { scale, marginPx: marginPx * scale }),
      };
      return true;
    }
    // Both eyes are soon counted: their map follows a value that is dragged. A count of many views gives way to a newer one.
    if (this.running && this.running.key !== key && this.running.views <= 2 && views <= 2) {
      await this.running.done;
      return this.newest === key && this.want(order);
    }
    if (this.running?.key !== key) {
      const done = this.elsewhere(scene, eyePositions(views), marginPx * scale).then((found) => {
        if (this.running?.done === done) this.running = undefined;
        if (!found) return;
        this.known = { stamp, key: what, found };
        this.onCounted?.();
      });
      this.running = { key, views, done };
    }
    await this.running.done;
    return stamp === this.known.stamp && what === this.known.key;
  }
}
