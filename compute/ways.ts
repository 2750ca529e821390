import type { FillEdit } from '@/core/fill/edits';
import type { Choice } from '@/core/matte/choice';
import type { Plate } from '@/core/shot/document';
import type { StereoPart } from '@/core/view/renderView';

/** The ways to see a shot. */
export const WAYS = ['picture', 'depth', 'depth-over-picture', 'left', 'right', 'both', 'glasses', 'rock'] as const;
export type Way = (typeof WAYS)[number];

/** Grounds on which a cut is checked: stray pixels hide on the wrong one. Matte is the coverage itself, as grey; behind is what lies behind the cut, shifted. */
export const GROUNDS = ['black', 'white', 'grey', 'checks', 'matte', 'colour', 'behind'] as const;
export type Ground = (typeof GROUNDS)[number];

/** How a cut is looked at alone. */
export interface Check {
  readonly ground: Ground;
  /** The chosen colour, as #rrggbb. */
  readonly colour: string;
  /** How far what lies behind is shifted, px at the source's width. */
  readonly shiftPx: number;
  /** Mark pixels that still show the old background's colour. */
  readonly rim: boolean;
}

/** What a check found in the choice, or else in the plate in work. */
export interface Found {
  readonly specks: number;
  readonly rim: number;
  readonly edge: number;
}

/** How the fill stage looks behind the plates. */
export interface Behind {
  readonly asidePx: number;
  readonly reveal: boolean;
  readonly stretch: boolean;
  readonly marginPx: number;
  readonly views: number;
}

/** One edit of the hand on a plate (null: the back plate) that is not in the rasters yet: the server has not stored it, or it is still being drawn. Numbered in their order. */
export interface HandEdit {
  readonly n: number;
  readonly plate: string | null;
  readonly edit: FillEdit;
}

/** What the views uncover of a plate, full-size px. */
export interface RevealCount {
  readonly id: string | null;
  readonly revealed: number;
  readonly open: number;
  readonly torn: number;
  readonly share: number;
}

/** A document as the preview sees it: what a view depends on, and where brought-in pieces lie. */
export type SeenDocument = Omit<StereoPart, 'plates'> & {
  readonly holePx: number | null;
  readonly plates: readonly (StereoPart['plates'][number] & Pick<Plate, 'piece'>)[];
};

/** What a frame of the preview depends on. */
export interface LookRequest {
  readonly way: Way;
  /** For left and right only: show the other eye instead. For rock: which of the two eyes. */
  readonly flipped: boolean;
  /** Stripe what the eyes' views uncover. */
  readonly markReveal: boolean;
  /** The fill stage looks behind: nearer plates than the one in work are pushed aside by so many px at the source's width; what the views uncover, or where pixels stretch, is marked. */
  readonly behind: Behind | undefined;
  /** What hands have drawn that is not in the rasters yet. */
  readonly hands: readonly HandEdit[];
  /** Depth behind the plates is painted: the back plate is shown alone, with that depth. */
  readonly behindDepth: boolean;
  readonly document: SeenDocument;
  /** Strength of depth over the picture, 0 to 1. */
  readonly depthStrength: number;
  /** The plate in work; everything else is set back. Null: the back plate, with nothing set back. */
  readonly active: string | null;
  /** The choice in work, shown over the picture. */
  readonly choice: Choice | undefined;
  /** The choice leaves to other plates what they hold. */
  readonly spare: boolean;
  /** The cut alone on a ground: the choice in work, or else the plate in work. */
  readonly check: Check | undefined;
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
export interface Look {
  readonly frames: readonly Frame[];
  readonly revealedShare: number;
  readonly milliseconds: number;
}

/** Which rasters a shot is made of; a revision never changes. */
export interface RasterNames {
  readonly depth: string;
  readonly behind: string | null;
  readonly fill: string | null;
  readonly overpaint: string | null;
  readonly plates: readonly {
    readonly id: string;
    readonly fill: string | null;
    readonly overpaint: string | null;
    readonly matte: string;
    readonly depth: string;
    readonly piece: PieceName | null;
  }[];
}

/** A brought-in plate's stored picture. */
export interface PieceName {
  readonly mediaId: string;
  readonly width: number;
  readonly height: number;
}
