import { isFilled } from '@/core/fill/isFilled';
import { plateGround } from '@/core/fill/plateGround';
import type { Revealed } from '@/core/fill/revealMap';
import type { MoveLook } from '@/core/move/moveReveal';
import type { DepthMap, Mask, Premultiplied8, Straight } from '@/core/raster/picture';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { ShotRasters } from '@/core/shot/rasters';
import { sourceEyePosition, spanBudget } from '@/core/stereo/parallax';
import { stretchOf, type Stretch } from '@/core/stereo/stretch';
import { RevealCounter, type CountElsewhere } from './revealCounter';

/** Which views are looked at, and how far beyond what they uncover, px at full size. */
export interface Looking {
  readonly views: number;
  readonly marginPx: number;
  /** Also what eyes that ride on a moving camera uncover. */
  readonly move: MoveLook | null;
}

/** What the views uncover of a plate, full-size px. */
export interface RevealCount {
  readonly id: string | null;
  readonly revealed: number;
  readonly open: number;
  readonly torn: number;
  readonly share: number;
}

/** A layer as it is laid out. */
export interface LaidOut {
  readonly scene: SceneFrame;
  readonly rasters: ShotRasters<Premultiplied8>;
  readonly scale: number;
  /** Says which laying out of the plates it is. */
  readonly stamp: number;
}

/**
 * What is known of what lies behind a layer's plates: what views uncover, and where pixels stretch. While a reveal map
 * is counted in another worker the last one is known.
 */
export class LookBehind {
  private readonly counter: RevealCounter;

  constructor(elsewhere?: CountElsewhere, onCounted?: () => void) {
    this.counter = new RevealCounter(elsewhere, onCounted);
  }

  /** Takes over what another layer knows of the same plates. */
  inherit(other: LookBehind, stamp: number, now: number): void {
    this.counter.inherit(other.counter, stamp, now);
  }

  /** The newest reveal map. */
  get found(): readonly Revealed[] {
    return this.counter.found;
  }

  /** Sees to it that the reveal map is counted; false where another was wanted meanwhile. */
  want({ scene, rasters, scale, stamp }: LaidOut, { views, marginPx, move }: Looking): Promise<boolean> {
    return this.counter.want({ scene, rasters, scale, views, marginPx, move, stamp });
  }

  /** How much each pixel of a plate (null: the back plate) is stretched. */
  stretch({ scene, rasters, scale }: LaidOut, active: string | null): Stretch {
    const surface = scene.plates.find((p) => p.id === active) ?? scene.back;
    const { nearPx, farPx } = spanBudget(scene.budget, surface);
    const ground = plateGround(rasters, active);
    const cover: Mask | undefined = ground && {
      ...ground.own,
      data: ground.own.data.map((v, i) => (v || ground.hidden.data[i] ? 255 : 0)),
    };
    const home = sourceEyePosition(scene.sourceEye);
    return stretchOf(wholeDepth(rasters, active), {
      budget: { nearPx: nearPx * scale, farPx: farPx * scale },
      tearPx: surface.tearPx * scale,
      reach: Math.max(0.5 - home, 0.5 + home),
      ...(cover ? { cover } : {}),
    });
  }

  /**
   * Counts at full size, nearest plate first; undefined where something newer was asked for meanwhile. @param fills
   * what is filled in behind each plate
   */
  async counts(
    laid: LaidOut,
    looking: Looking,
    fills: ReadonlyMap<string | null, Straight | undefined>,
  ): Promise<RevealCount[] | undefined> {
    if (!(await this.want(laid, looking))) return undefined;
    const full = 1 / laid.scale ** 2;
    return this.found.map(({ id, mask, count, torn, covers }) => ({
      id,
      revealed: Math.round(count * full),
      open: Math.round(openOf(mask, fills.get(id), laid.scale) * full),
      torn: Math.round(torn * full),
      share: covers > 0 ? count / covers : 0,
    }));
  }
}

/** How many pixels of a mask nobody has filled. */
function openOf({ data }: Mask, fill: Straight | undefined, scale: number): number {
  let open = 0;
  for (let i = 0; i < data.length; i++) if (data[i] && !isFilled(fill, i, scale)) open++;
  return open;
}

/** A plate's map over the whole layer. */
function wholeDepth({ picture, depth, plates }: ShotRasters<Premultiplied8>, id: string | null): DepthMap {
  const raster = plates.find((r) => r.id === id);
  if (!raster) return depth;
  const { width, height } = picture;
  const whole: DepthMap = { width, height, data: new Uint16Array(width * height) };
  whole.data.set(raster.depth.data, raster.top * width);
  return whole;
}
