import type { z } from 'zod';
import type { Size } from '../kind';
import type { SheetLens } from '../lenticular/sheetFor';
import type { Straight } from '../raster/picture';
import type { Colours } from '../raster/ycbcr';

/** How a picture may be stored. */
export const FORMATS = ['png', 'png16', 'tiff', 'jpeg'] as const;
export type PictureFormat = (typeof FORMATS)[number];

/** How a video may be stored. */
export const VIDEO_FORMATS = ['mp4', 'webm', 'gif'] as const;
export type VideoFormat = (typeof VIDEO_FORMATS)[number];

/** A picture to be made, and how it is stored. */
export interface PictureOrder {
  /** Its file's name without the ending. */
  readonly stem: string;
  readonly format: PictureFormat;
  /** 50 to 100, of JPEG. */
  readonly quality: number;
  /** From and to which share of the whole work it is made. */
  readonly share: readonly [number, number];
}

/** A print file for a lens sheet, and how it is stored. */
export interface SheetOrder {
  /** Its file's name without the ending. */
  readonly stem: string;
  readonly format: 'tiff' | 'png';
  readonly lens: SheetLens;
  /** The eyes whose views are interlaced, leftmost first. */
  readonly eyes: readonly number[];
}

/** A video to be made, and how it is stored. */
export interface VideoOrder extends Size {
  /** Its file's name without the ending. */
  readonly stem: string;
  /** `png`: a picture for every frame. */
  readonly format: VideoFormat | 'png';
  /** 0 to 100. */
  readonly quality: number;
  readonly fps: number;
  readonly frames: number;
  /** How two eyes share a frame; other words where they do not. */
  readonly packing: string;
  /** What its frames hold. */
  readonly colours: Colours;
}

/** How a frame of what moves is seen. */
export interface SeeingHow {
  readonly size: Size;
  /** How long the shutter is open, degrees of a frame's time. */
  readonly shutter: number;
  /** What it shall hold. */
  readonly colours: Colours;
}

/** A stretch of frames that is handed over. */
export interface Moving {
  readonly fps: number;
  readonly first: number;
  readonly last: number;
  /** Its files begin with this. */
  readonly stem: 'move' | 'film';
}

/** Where a recipe is made: the render worker's, or the command line's. */
export interface Workshop {
  /** Size of what is handed over, px. */
  readonly handed: Size;
  /** The view from an eye (-1/2 left to +1/2 right), straight alpha. */
  view(eye: number): Straight;
  /** What of the shot's move, or of its footage, is handed over; null where nothing moves. */
  readonly move: Moving | null;
  /** What a camera sees at a frame of it. @param eye null: the camera itself */
  moved(frame: number, eye: number | null, how: SeeingHow): Straight | Promise<Straight>;
  /** What frames of it hold where nothing converts them on their way into a video. */
  movedColours(): Promise<Colours>;
  /**
   * Makes a video of so many frames and stores it, unless it is stored already. Frames may be asked for in any order.
   */
  video(order: VideoOrder, frame: (n: number) => Straight | Promise<Straight>): Promise<void>;
  /** Says how far the work is; throws where it shall end. */
  report(share: number, step: string): Promise<void>;
  /** Makes a picture and stores it, unless it is stored already. */
  picture(order: PictureOrder, make: () => Straight | Promise<Straight>): Promise<void>;
  /** Interlaces views and stores the sheet, unless it is stored already. */
  sheet(order: SheetOrder): Promise<void>;
}

/**
 * One kind of recipe: what it holds, and how what it asks for is made. The page, the render worker and the command line
 * share it. A new one is one file and one line in this folder's index.
 */
export interface Maker<Kind extends string, Recipe extends { readonly kind: Kind }, Schema = z.ZodType<Recipe>> {
  /** The word by which a recipe says which kind it is. */
  readonly kind: Kind;
  readonly schema: Schema;
  /** What it is before somebody has set it. */
  readonly begin: Recipe;
  /** What its renders are called. */
  label(recipe: Recipe): string;
  /** Size of a file that it makes, px. @throws CoreError where the recipe cannot be made of a picture of this size */
  size(recipe: Recipe, handed: Size): Size;
  /** The eyes whose views it shows, leftmost first: as many steps as it has. */
  steps(recipe: Recipe): readonly number[];
  /** Whether it shows the shot's move. @default it does not */
  readonly moves?: boolean;
  run(recipe: Recipe, shop: Workshop): Promise<void>;
}

/** A maker of the recipes that a schema lets through. */
export function maker<Kind extends string, Schema extends z.ZodType<{ readonly kind: Kind }>>(
  made: Maker<Kind, z.infer<Schema>, Schema>,
): Maker<Kind, z.infer<Schema>, Schema> {
  return made;
}
