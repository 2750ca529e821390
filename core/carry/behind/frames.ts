import type { DepthMap, Mask, Picture8, Straight8 } from '../../raster/picture';

/** A frame of a film whose plates hide what lies behind them. */
export interface BehindFrame {
  readonly picture: Picture8;
  /** Of the back plate. */
  readonly depth: DepthMap;
  /** What plates hide, pushed out so that no rim of them stays, 255. */
  readonly hole: Mask;
  /** What was filled there by hand or machine at this frame; undefined where nothing was. */
  readonly painted: Straight8 | undefined;
}

/** Frames by their numbers, the first one 0: one scene, no cut among them. */
export interface BehindFrames {
  readonly count: number;
  /** Frames that were filled. */
  readonly painted: readonly number[];
  frame(n: number): Promise<BehindFrame>;
}

/** What lies behind the plates of a frame. */
export interface CarriedBehind {
  readonly frame: number;
  /** Opaque where plates hide anything, empty elsewhere. */
  readonly colours: Straight8;
  /** Its depth there; elsewhere 0. */
  readonly depth: DepthMap;
  /** Share of what is hidden that some frame shows, or that was painted; 1 where nothing is hidden. */
  readonly seen: number;
}
