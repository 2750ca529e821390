import type { Remote } from 'comlink';
import { applyDepthEdit, type DepthEdit } from '@/core/depth/edit';
import { BrushStroke, type BrushSettings, type StrokePoint } from '@/core/depth/brush';
import type { DepthWindow, Rect } from '@/core/depth/window';
import { anaglyph } from '@/core/packing/anaglyph';
import { premultiply } from '@/core/raster/alpha';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import { mapBudget, renderView, type StereoPart } from '@/core/shot/renderView';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';
import type { EyeApi } from './eye.worker';
import { drawDepth, drawDepthOverPicture, stripeReveal } from './draw';
import type { Frame, LookRequest } from './ways';

/** Room beside a window in detail, in which views may take picture from; never shown. Full-size px. */
export interface LayerPlace { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number; readonly shown: Rect; readonly scale: number }

/** A rectangle of the shot at one scale: picture, depth, and room to render views into. */
export class Layer {
  readonly picture: Picture8;
  readonly depth: DepthMap;
  readonly window: DepthWindow;
  private stroke: BrushStroke | undefined;
  private eyes: [ViewBuffers<Picture8>, ViewBuffers<Picture8>] | undefined;

  /** @param second renders the right eye beside this worker; both see the same memory */
  constructor(readonly place: LayerPlace, picture: Picture8, values: Uint16Array, private readonly second: Remote<EyeApi> | undefined) {
    const { width, height } = picture;
    this.picture = sharedPicture(width, height);
    this.picture.data.set(picture.data);
    const depth = new Uint16Array(new SharedArrayBuffer(values.byteLength));
    depth.set(values);
    for (let i = 3; i < picture.data.length; i += 4) {
      if (picture.data[i] !== 255) { premultiply(this.picture); break; }
    }
    this.depth = { width, height, data: depth };
    this.window = { left: place.left, top: place.top, scale: place.scale, width, height, data: depth };
  }

  beginStroke(settings: BrushSettings): void { this.stroke = new BrushStroke(this.window, settings); }
  addPoints(points: readonly StrokePoint[]): Rect | undefined { return this.stroke?.add(points); }
  endStroke(): void { this.stroke = undefined; }
  apply(edit: DepthEdit): void { applyDepthEdit(this.window, edit); }

  /** Draws the picture or its depth, or a part of it in the layer's px: what a brush has touched. */
  lookFlat(request: LookRequest, rect: Rect): Frame {
    const { way, document } = request;
    const data = new Uint8ClampedArray((rect.right - rect.left) * (rect.bottom - rect.top) * 4);
    if (way === 'picture') copyRect(this.picture, rect, data);
    else if (way === 'depth') drawDepth(this.depth, rect, data);
    else drawDepthOverPicture(this.picture, this.depth, rect, data, mapBudget(document), request.depthStrength, request.contourPx);
    return this.frameOf(rect, data);
  }

  /** Draws one way to see. */
  async look(request: LookRequest): Promise<{ frame: Frame; revealed: number }> {
    const { way, document } = request;
    const { width, height } = this.picture;
    const whole = { left: 0, top: 0, right: width, bottom: height };
    if (isFlat(way)) return { frame: this.lookFlat(request, whole), revealed: 0 };
    this.eyes ??= [sharedBuffers(width, height), sharedBuffers(width, height)];
    if (way === 'left' || way === 'right' || way === 'rock') {
      const right = way === 'rock' ? request.flipped : (way === 'right') !== request.flipped;
      const revealed = this.renderEye(document, right ? 1 : 0, request.markReveal);
      return { frame: this.frameOf(whole, new Uint8ClampedArray(this.eyes[right ? 1 : 0].picture.data)), revealed };
    }
    const revealed = await this.renderEyes(document, request.markReveal);
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

  /** The left eye here and the right one in the second worker, at the same time. Returns the larger share of revealed pixels. */
  private async renderEyes(document: StereoPart, mark: boolean): Promise<number> {
    const [, right] = this.eyes!;
    const beside = this.second?.render(document, this.picture, this.depth, 0.5, this.place.scale, right);
    const here = this.renderEye(document, 0, mark);
    if (!beside) return Math.max(here, this.renderEye(document, 1, mark));
    const there = (await beside) / (this.picture.width * this.picture.height);
    if (mark) stripeReveal(right.picture, right.revealed);
    return Math.max(here, there);
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

/** True for the ways that show the source itself, where a brush can land and a part can be drawn alone. */
export function isFlat(way: LookRequest['way']): boolean {
  return way === 'picture' || way === 'depth' || way === 'depth-over-picture';
}

function sharedPicture(width: number, height: number): Picture8 {
  return { width, height, data: new Uint8Array(new SharedArrayBuffer(width * height * 4)) };
}

function sharedBuffers(width: number, height: number): ViewBuffers<Picture8> {
  return { picture: sharedPicture(width, height), revealed: { width, height, data: new Uint8Array(new SharedArrayBuffer(width * height)) } };
}

function copyRect(picture: Picture8, rect: Rect, out: Uint8ClampedArray): void {
  const w = (rect.right - rect.left) * 4;
  for (let y = rect.top; y < rect.bottom; y++) {
    const from = (y * picture.width + rect.left) * 4;
    out.set(picture.data.subarray(from, from + w), (y - rect.top) * w);
  }
}
