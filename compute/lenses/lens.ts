import type { Rect } from '@/core/raster/geometry';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { Layer } from '../layer/layer';
import type { Frame } from '../look';

/** What a lens has drawn. */
export interface Drawn {
  /** None where nothing has changed. */
  readonly frame: Frame | undefined;
  /** Share of pixels that the eyes reveal, 0 to 1; 0 for ways that show the source. */
  readonly revealed: number;
  /** True where the frame is to be laid into the last whole one. */
  readonly part: boolean;
}

/** What is looked at. */
export interface Asked<Ask> {
  readonly scene: SceneFrame;
  readonly ask: Ask;
}

/** One way of looking at a layer. What it is asked for, a stage says (studio/stages); what it draws, it knows alone. */
export interface Lens<Ask extends { readonly lens: string }> {
  readonly key: Ask['lens'];
  /** True where it can draw what a brush has touched, alone. */
  readonly touches: boolean;
  /** True where it has nothing to show in a window in detail. @default it has */
  notCloser?(ask: Ask): boolean;
  /**
   * Draws a layer.
   * @param rect the part that has changed @default what has changed since it was drawn last, or all
   */
  draw(layer: Layer, asked: Asked<Ask>, rect?: Rect): Drawn | Promise<Drawn>;
  /** Asks for all of it where it would draw a part. */
  drawAll?(layer: Layer, asked: Asked<Ask>): Promise<Drawn>;
  /** Before the window in detail is drawn: takes over from the whole picture what only that knows. */
  lend?(whole: Layer, detail: Layer, asked: Asked<Ask>): void;
}

/** A frame of the whole layer or a part, that shows the source. */
export const flat = (layer: Layer, rect: Rect, data: Uint8ClampedArray): Drawn => ({
  frame: layer.frameOf(rect, data),
  revealed: 0,
  part: false,
});

/** Room for a rectangle, RGBA. */
export const roomFor = ({ left, top, right, bottom }: Rect): Uint8ClampedArray =>
  new Uint8ClampedArray((right - left) * (bottom - top) * 4);
