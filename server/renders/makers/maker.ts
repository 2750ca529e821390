import type { z } from 'zod';
import type { Size } from '@/core/kind';
import type { Straight } from '@/core/raster/picture';
import type { PictureFormat } from '../../media/writePicture';

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

/** Where a recipe is made: the render worker's, or the command line's. */
export interface Workshop {
  /** Size of what is handed over, px. */
  readonly handed: Size;
  /** The view from an eye (-1/2 left to +1/2 right), straight alpha. */
  view(eye: number): Straight;
  /** Says how far the work is; throws where it shall end. */
  report(share: number, step: string): Promise<void>;
  /** Makes a picture and stores it, unless it is stored already. */
  picture(order: PictureOrder, make: () => Straight | Promise<Straight>): Promise<void>;
  /** Writes a file into a folder of its own and stores it, unless it is stored already. */
  file(name: string, mime: string, write: (path: string, dir: string) => Promise<void>): Promise<void>;
}

/** Makes what one kind of recipe asks for; the render worker and the command line share it. */
export interface Maker<Recipe extends { readonly kind: string }> {
  readonly kind: Recipe['kind'];
  readonly schema: z.ZodType<Recipe>;
  /** Size of a file that it makes, px. @throws CoreError where the recipe cannot be made of a picture of this size */
  size(recipe: Recipe, handed: Size): Size;
  /** The eyes whose views it shows, leftmost first: as many steps as it has. */
  steps(recipe: Recipe): readonly number[];
  run(recipe: Recipe, shop: Workshop): Promise<void>;
}
