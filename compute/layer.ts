import { applyDepthEdit, type DepthEdit } from '@/core/depth/edit';
import { BrushStroke, type BrushSettings, type StrokePoint } from '@/core/depth/brush';
import type { DepthWindow, Rect } from '@/core/depth/window';
import { anaglyph } from '@/core/packing/anaglyph';
import { premultiply } from '@/core/raster/alpha';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import { mapBudget, renderView, type StereoPart } from '@/core/shot/renderView';
import { viewBuffers, type ViewBuffers } from '@/core/stereo/synthesizeView';
import { drawDepth, drawDepthOverPicture, stripeReveal } from './draw';
import type { Frame, LookRequest } from './ways';

/** Room beside a window in detail, in which views may take picture from; never shown. Full-size px. */
export interface LayerPlace { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number; readonly shown: Rect; readonly scale: number }

/** A rectangle of the shot at one scale: picture, depth, and room to render views into. */
export class Layer {
  readonly depth: DepthMap;
  readonly window: DepthWindow;
  private stroke: BrushStroke | undefined;
  private eyes: [ViewBuffers<Picture8>, ViewBuffers<Picture8>] | undefined;

  constructor(readonly place: LayerPlace, readonly picture: Picture8, depth: Uint16Array) {
    const { width, height } = picture;
    for (let i = 3; i < picture.data.length; i += 4) {
      if (picture.data[i] !== 255) { premultiply(picture); break; }
    }
    this.depth = { width, height, data: depth };
    this.window = { left: place.left, top: place.top, scale: place.scale, width, height, data: depth };
  }

  beginStroke(settings: BrushSettings): void { this.stroke = new BrushStroke(this.window, settings); }
  addPoints(points: readonly StrokePoint[]): Rect | undefined { return this.stroke?.add(points); }
  endStroke(): void { this.stroke = undefined; }
  apply(edit: DepthEdit): void { applyDepthEdit(this.window, edit); }

  /** Draws one way to see. `part`, in the layer's px, limits flat ways to what changed. */
  look(request: LookRequest, part?: Rect): { frame: Frame; revealed: number } {
    const { way, document } = request;
    const { width, height } = this.picture;
    const flat = way === 'picture' || way === 'depth' || way === 'depth-over-picture';
    if (flat) {
      const rect = part ?? { left: 0, top: 0, right: width, bottom: height };
      const data = new Uint8ClampedArray((rect.right - rect.left) * (rect.bottom - rect.top) * 4);
      if (way === 'picture') copyRect(this.picture, rect, data);
      else if (way === 'depth') drawDepth(this.depth, rect, data);
      else drawDepthOverPicture(this.picture, this.depth, rect, data, mapBudget(document), request.depthStrength, request.contourPx);
      return { frame: this.frameOf(rect, data), revealed: 0 };
    }
    this.eyes ??= [viewBuffers(this.picture), viewBuffers(this.picture)];
    const whole = { left: 0, top: 0, right: width, bottom: height };
    if (way === 'left' || way === 'right' || way === 'rock') {
      const right = way === 'rock' ? request.flipped : (way === 'right') !== request.flipped;
      const revealed = this.renderEye(document, right ? 1 : 0, request.markReveal);
      return { frame: this.frameOf(whole, new Uint8ClampedArray(this.eyes[right ? 1 : 0].picture.data)), revealed };
    }
    const revealed = Math.max(this.renderEye(document, 0, request.markReveal), this.renderEye(document, 1, request.markReveal));
    const [l, r] = this.eyes;
    if (way === 'glasses') {
      const data = new Uint8ClampedArray(width * height * 4);
      anaglyph(l.picture, r.picture, 'red-cyan-least-squares', data);
      return { frame: this.frameOf(whole, data), revealed };
    }
    const data = new Uint8ClampedArray(width * height * 8);
    for (let y = 0; y < height; y++) {
      data.set(l.picture.data.subarray(y * width * 4, (y + 1) * width * 4), y * width * 8);
      data.set(r.picture.data.subarray(y * width * 4, (y + 1) * width * 4), y * width * 8 + width * 4);
    }
    const { left, top, bottom } = this.place;
    const span = this.place.right - left;
    return { frame: { left, top, right: left + 2 * span, bottom, width: 2 * width, height, data }, revealed };
  }

  private renderEye(document: StereoPart, which: 0 | 1, mark: boolean): number {
    const buffers = this.eyes![which];
    const { revealedCount, picture, revealed } = renderView(document, this.picture, this.depth, which - 0.5, this.place.scale, 'fill', buffers);
    if (mark) stripeReveal(picture, revealed);
    return revealedCount / (picture.width * picture.height);
  }

  private frameOf(rect: Rect, data: Uint8ClampedArray): Frame {
    const { left, top, scale } = this.place;
    return {
      left: left + rect.left / scale, top: top + rect.top / scale, right: left + rect.right / scale, bottom: top + rect.bottom / scale,
      width: rect.right - rect.left, height: rect.bottom - rect.top, data: data as Uint8ClampedArray<ArrayBuffer>,
    };
  }
}

function copyRect(picture: Picture8, rect: Rect, out: Uint8ClampedArray): void {
  const w = (rect.right - rect.left) * 4;
  for (let y = rect.top; y < rect.bottom; y++) {
    const from = (y * picture.width + rect.left) * 4;
    out.set(picture.data.subarray(from, from + w), (y - rect.top) * w);
  }
}
