import type { FillEdit } from '@/core/fill/edits';

/** The ways to see a shot that show the source itself: a brush can land there, and a part can be drawn alone. */
export const FLAT_WAYS = ['picture', 'depth', 'depth-over-picture'] as const;
export type FlatWay = (typeof FLAT_WAYS)[number];
/** The ways to see it that show the eyes' views. */
export const EYE_WAYS = ['left', 'right', 'both', 'glasses', 'rock'] as const;
export type EyeWay = (typeof EYE_WAYS)[number];

/** The ways to see a shot, in their order. */
export const WAYS = [...FLAT_WAYS, ...EYE_WAYS] as const;
export type Way = (typeof WAYS)[number];

export const isFlat = (way: Way): way is FlatWay => (FLAT_WAYS as readonly Way[]).includes(way);

/**
 * What depth over the picture shows: contours, coloured bands between them, or the map as a surface in a slanting
 * light.
 */
export const DEPTH_SHOWN = ['contours', 'bands', 'relief'] as const;
export type DepthShown = (typeof DEPTH_SHOWN)[number];

/** How depth is laid over the picture. */
export interface DepthOver {
  /** Strength of depth over the picture, 0 to 1. */
  readonly strength: number;
  /** Parallax between two contours, px at the source's width. */
  readonly contourPx: number;
  /** @default 'contours' */
  readonly shown?: DepthShown;
  /** Where the light of the relief comes from, degrees from above, clockwise. @default 315 */
  readonly lightDeg?: number;
}

/**
 * One edit of the hand on a plate (null: the back plate) that is not in the rasters yet: the server has not stored it,
 * or it is still being drawn. Numbered in their order.
 */
export interface HandEdit {
  readonly n: number;
  readonly plate: string | null;
  readonly edit: FillEdit;
}

/**
 * One finished rectangle of the preview, and where it belongs: full-size px of the picture, or of both eyes side by
 * side.
 */
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
  /** True where the frames are to be laid into the last whole ones. */
  readonly parts: boolean;
  /** Share of pixels that the eyes reveal, 0 to 1. */
  readonly revealedShare: number;
  readonly milliseconds: number;
}

/** Which rasters a shot is made of; a revision never changes. */
export interface RasterNames {
  /** The source's own name. */
  readonly media: string;
  /** Of footage: which frame, from 0. @default it is a picture */
  readonly moment?: number;
  readonly depth: string;
  readonly behind: string | null;
  readonly fill: string | null;
  readonly overpaint: string | null;
  readonly plates: readonly PlateNames[];
}

export interface PlateNames {
  readonly id: string;
  readonly fill: string | null;
  readonly overpaint: string | null;
  readonly matte: string;
  readonly depth: string;
  readonly piece: PieceName | null;
}

/** A brought-in plate's stored picture. */
export interface PieceName {
  readonly mediaId: string;
  readonly width: number;
  readonly height: number;
}
