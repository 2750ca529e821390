import type { ShotRasters } from '@/core/shot/rasters';
import { Reveal, type Revealed } from '@/core/fill/revealMap';
import { seeMove, type MoveLook } from '@/core/move/moveReveal';
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
  readonly move: MoveLook | null;
  readonly stamp: number;
}

/** Counts in another worker; undefined where a newer count was asked for meanwhile. @param marginPx raster px */
export type CountElsewhere = (
  scene: SceneFrame,
  eyes: readonly number[],
  marginPx: number,
  move: MoveLook | null,
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
    const { scene, rasters, scale, views, marginPx, move, stamp } = order;
    const what = `${scene.version} ${views} ${marginPx} ${moveKey(move)}`;
    const key = `${stamp} ${what}`;
    this.newest = key;
    if (stamp === this.known.stamp && what === this.known.key) return true;
    if (!this.elsewhere) {
      this.known = {
        stamp,
        key: what,
        found: revealedBy(scene, rasters, { eyes: eyePositions(views), move, scale, marginPx: marginPx * scale }),
      };
      return true;
    }
    // Both eyes are soon counted: their map follows a value that is dragged. A count of many views gives way to a newer one.
    if (this.running && this.running.key !== key && this.running.views <= 2 && views <= 2 && !move) {
      await this.running.done;
      return this.newest === key && this.want(order);
    }
    if (this.running?.key !== key) {
      const done = this.elsewhere(scene, eyePositions(views), marginPx * scale, move).then((found) => {
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

/** The same for what shows the same. */
const moveKey = (look: MoveLook | null): string =>
  look
    ? `${look.scene.version} ${JSON.stringify([look.move.keys, look.move.path, look.move.pace, look.first, look.last])}`
    : '';

/** Who looks, raster px. */
export interface Lookers {
  readonly eyes: readonly number[];
  readonly move: MoveLook | null;
  readonly scale: number;
  readonly marginPx: number;
}

/** What views and a move uncover, in steps. */
export function* revealSteps(
  scene: SceneFrame,
  rasters: ShotRasters<Premultiplied8>,
  { eyes, move, scale, marginPx }: Lookers,
): Generator<number, readonly Revealed[]> {
  const reveal = new Reveal(scene, rasters, scale);
  yield* reveal.see(eyes);
  if (move) yield* seeMove(reveal, move, rasters, scale);
  return reveal.found(marginPx);
}

function revealedBy(scene: SceneFrame, rasters: ShotRasters<Premultiplied8>, who: Lookers): readonly Revealed[] {
  const steps = revealSteps(scene, rasters, who);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
