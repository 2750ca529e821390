import type { Choice } from '@/core/matte/choice';
import type { StereoPart } from '@/core/shot/renderView';

/** The ways to see a shot. */
export const WAYS = ['picture', 'depth', 'depth-over-picture', 'left', 'right', 'both', 'glasses', 'rock'] as const;
export type Way = (typeof WAYS)[number];

/** Grounds on which a cut is checked: stray pixels hide on the wrong one. Matte is the coverage itself, as grey. */
export const GROUNDS = ['black', 'white', 'grey', 'checks', 'matte'] as const;
export type Ground = (typeof GROUNDS)[number];

/** What a frame of the preview depends on. */
export interface LookRequest {
  readonly way: Way;
  /** For left and right only: show the other eye instead. For rock: which of the two eyes. */
  readonly flipped: boolean;
  /** Stripe what the eyes' views uncover. */
  readonly markReveal: boolean;
  readonly document: StereoPart;
  /** Strength of depth over the picture, 0 to 1. */
  readonly depthStrength: number;
  /** The plate in work; everything else is set back. Null: the back plate, with nothing set back. */
  readonly active: string | null;
  /** The choice in work, shown over the picture. */
  readonly choice: Choice | undefined;
  /** The cut alone on a ground: the choice in work, or else the plate in work. */
  readonly ground: Ground | undefined;
  /** Parallax between two contours, px at the source's width. */
  readonly contourPx: number;
}

/** One finished rectangle of the preview, and where it belongs: full-size px of the picture, or of both eyes side by side. */
export interface Frame {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray<ArrayBuffer>;
}

/** Frames of the whole picture, then of the window in detail where there is one, and how much the eyes reveal. */
export interface Look { readonly frames: readonly Frame[]; readonly revealedShare: number; readonly milliseconds: number }

/** Which rasters a shot is made of; a revision never changes. */
export interface RasterNames { readonly depth: string; readonly plates: readonly { readonly id: string; readonly matte: string; readonly depth: string }[] }
