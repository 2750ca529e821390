import type { Remote } from 'comlink';
import { applyDepthEdit, type DepthEdit } from '@/core/depth/edit';
import { BrushStroke, type BrushSettings, type StrokePoint } from '@/core/depth/brush';
import type { DepthWindow, Rect } from '@/core/depth/window';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { anaglyph } from '@/core/packing/anaglyph';
import type { DepthMap, Mask, Picture8 } from '@/core/raster/picture';
import { cleanColours, layOutPlates, type ShotRasters } from '@/core/shot/plates';
import { renderView, type StereoPart } from '@/core/shot/renderView';
import { absoluteDepth } from './absoluteDepth';
import { drawChoice, drawDepth, drawDepthOverPicture, drawOnGround, setBack, stripeReveal } from './draw';
import type { EyeApi } from './eye.worker';
import { shareBuffers, shareMap, sharePicture, shareRasters } from './shared';
import type { Frame, LookRequest } from './ways';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';

/** Room beside a window in detail, in which views may take picture from; never shown. Full-size px. */
export interface LayerPlace { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number; readonly shown: Rect; readonly scale: number }

/** A plate's coverage and depth at the layer's size. */
export interface LayerPlate { readonly id: string; readonly matte: Mask; readonly depth: DepthMap }

/** Which depth a brush works on: a plate's, or the back plate's (null). */
export type Target = string | null;

let layers = 0;

/** A rectangle of the shot at one scale: picture, mattes and depths, and room to render views into. */
export class Layer {
  readonly picture: Picture8;
  readonly depth: DepthMap;
  readonly plates: readonly LayerPlate[];
  private readonly key = ++layers;
  private stroke: { readonly target: Target; readonly brush: BrushStroke } | undefined;
  private eyes: [ViewBuffers<Picture8>, ViewBuffers<Picture8>] | undefined;
  /** Laid out anew when a depth has changed. */
  private rasters: ShotRasters<Picture8> | undefined;
  private absolute: { readonly key: string; readonly map: DepthMap } | undefined;
  private maker: ChoiceMaker | undefined;
  private chosen: { readonly of: Choice; readonly matte: Mask | undefined } | undefined;

  /**
   * @param picture premultiplied
   * @param second renders the right eye beside this worker; both see the same memory
   */
  constructor(readonly place: LayerPlace, picture: Picture8, depth: Uint16Array, plates: readonly LayerPlate[], private readonly second: Remote<EyeApi> | undefined) {
    const { width, height } = picture;
    this.picture = sharePicture(picture);
    this.depth = shareMap({ width, height, data: depth });
    this.plates = plates.map((p) => ({ ...p, depth: shareMap(p.depth) }));
  }

  private depthOf(target: Target): DepthMap | undefined {
    return target === null ? this.depth : this.plates.find((p) => p.id === target)?.depth;
  }

  private window(map: DepthMap): DepthWindow {
    return { left: this.place.left, top: this.place.top, scale: this.place.scale, width: map.width, height: map.height, data: map.data };
  }

  beginStroke(settings: BrushSettings, target: Target): void {
    const map = this.depthOf(target);
    this.stroke = map && { target, brush: new BrushStroke(this.window(map), settings) };
  }

  addPoints(points: readonly StrokePoint[]): Rect | undefined { return this.stroke?.brush.add(points); }

  endStroke(): void {
    this.stroke = undefined;
    this.depthChanged();
  }

  apply(edit: DepthEdit, target: Target): void {
    const map = this.depthOf(target);
    if (map) applyDepthEdit(this.window(map), edit);
    this.depthChanged();
  }

  private depthChanged(): void {
    if (this.plates.length > 0) this.rasters = undefined;
    this.absolute = undefined;
  }

  /** Depth of everything over everything, as seen from the source; the map itself where there is but the back plate. */
  absoluteMap(document: StereoPart): DepthMap {
    const key = JSON.stringify([document.depth.near, document.depth.far, document.plates]);
    if (this.absolute?.key !== key || this.stroke) this.absolute = { key, map: absoluteDepth(document, this.depth, this.plates) };
    return this.absolute.map;
  }

  /** The matte of a choice, kept while it stays the same; undefined where nothing is chosen or it cannot be solved yet. */
  choose(choice: Choice): Mask | undefined {
    if (this.chosen?.of === choice || JSON.stringify(this.chosen?.of) === JSON.stringify(choice)) return this.chosen?.matte;
    this.maker ??= new ChoiceMaker(this.picture, { left: this.place.left, top: this.place.top, scale: this.place.scale });
    let matte: Mask | undefined;
    try { matte = this.maker.make(choice, this.depth); } catch { matte = undefined; }
    this.chosen = { of: choice, matte };
    return matte;
  }

  /**
   * Takes a choice's matte from another layer, linear between its pixels: a window in detail may hold none of the strokes or
   * seeds that the choice was made of.
   */
  borrowChoice(choice: Choice, from: Layer): void {
    if (JSON.stringify(this.chosen?.of) === JSON.stringify(choice)) return;
    const other = from.choose(choice), { width, height } = this.picture;
    if (!other) { this.chosen = { of: choice, matte: undefined }; return; }
    const data = new Uint8Array(width * height);
    for (let y = 0, i = 0; y < height; y++) {
      const v = Math.min(other.height - 1, Math.max(0, ((y + 0.5) / this.place.scale + this.place.top - from.place.top) * from.place.scale - 0.5));
      const y0 = Math.floor(v), y1 = Math.min(other.height - 1, y0 + 1), fy = v - y0;
      for (let x = 0; x < width; x++, i++) {
        const u = Math.min(other.width - 1, Math.max(0, ((x + 0.5) / this.place.scale + this.place.left - from.place.left) * from.place.scale - 0.5));
        const x0 = Math.floor(u), x1 = Math.min(other.width - 1, x0 + 1), fx = u - x0;
        const m = other.data, a = y0 * other.width, b = y1 * other.width;
        data[i] = (m[a + x0] * (1 - fx) + m[a + x1] * fx) * (1 - fy) + (m[b + x0] * (1 - fx) + m[b + x1] * fx) * fy;
      }
    }
    this.chosen = { of: choice, matte: { width, height, data } };
  }

  /** Draws the picture or its depth, or a part of it in the layer's px: what a brush has touched. */
  lookFlat(request: LookRequest, rect: Rect): Frame {
    const { way, document } = request;
    const data = new Uint8ClampedArray((rect.right - rect.left) * (rect.bottom - rect.top) * 4);
    if (request.ground) {
      const matte = request.choice ? this.choose(request.choice) : this.plates.find((p) => p.id === request.active)?.matte;
      if (matte) {
        drawOnGround(cleanColours(this.picture, matte), matte, request.ground, rect, data);
        return this.frameOf(rect, data);
      }
    }
    if (way === 'picture') copyRect(this.picture, rect, data);
    else if (way === 'depth') drawDepth(this.absoluteMap(document), rect, data);
    else drawDepthOverPicture(this.picture, this.absoluteMap(document), rect, data, document.budget, request.depthStrength, request.contourPx);
    if (request.choice) {
      const matte = this.choose(request.choice);
      if (matte) drawChoice(matte, rect, data);
    } else if (request.active !== null) {
      const plate = this.plates.find((p) => p.id === request.active);
      if (plate) setBack(plate.matte, rect, data, way === 'depth-over-picture');
    }
    return this.frameOf(rect, data);
  }

  /** Draws one way to see. */
  async look(request: LookRequest): Promise<{ frame: Frame; revealed: number }> {
    const { way, document } = request;
    const { width, height } = this.picture;
    const whole = { left: 0, top: 0, right: width, bottom: height };
    if (isFlat(way)) return { frame: this.lookFlat(request, whole), revealed: 0 };
    await this.layOut();
    if (way === 'left' || way === 'right' || way === 'rock') {
      const right = way === 'rock' ? request.flipped : (way === 'right') !== request.flipped;
      const revealed = this.renderEye(document, right ? 1 : 0, request.markReveal);
      return { frame: this.frameOf(whole, new Uint8ClampedArray(this.eyes![right ? 1 : 0].picture.data)), revealed };
    }
    const revealed = await this.renderEyes(document, request.markReveal);
    const [l, r] = this.eyes!;
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

  /** Makes sure that plates and buffers are there, for this worker and the second one. */
  private async layOut(): Promise<void> {
    const { width, height } = this.picture;
    this.eyes ??= [shareBuffers(width, height), shareBuffers(width, height)];
    if (this.rasters) return;
    this.rasters = shareRasters(layOutPlates(this.picture, this.depth, this.plates), this.picture, this.depth);
    await this.second?.take(this.key, this.rasters, this.eyes[1]);
  }

  /** Frees what the second worker holds for this layer. */
  end(): void { void this.second?.forget(this.key); }

  /** The left eye here and the right one in the second worker, at the same time. Returns the larger share of revealed pixels. */
  private async renderEyes(document: StereoPart, mark: boolean): Promise<number> {
    const [, right] = this.eyes!;
    const beside = this.second?.render(this.key, document, 0.5, this.place.scale);
    const here = this.renderEye(document, 0, mark);
    if (!beside) return Math.max(here, this.renderEye(document, 1, mark));
    const there = (await beside) / (this.picture.width * this.picture.height);
    if (mark) stripeReveal(right.picture, right.revealed);
    return Math.max(here, there);
  }

  private renderEye(document: StereoPart, which: 0 | 1, mark: boolean): number {
    const { revealedCount, picture, revealed } = renderView(document, this.rasters!, which - 0.5, this.place.scale, 'fill', this.eyes![which]);
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

function copyRect(picture: Picture8, rect: Rect, out: Uint8ClampedArray): void {
  const w = (rect.right - rect.left) * 4;
  for (let y = rect.top; y < rect.bottom; y++) {
    const from = (y * picture.width + rect.left) * 4;
    out.set(picture.data.subarray(from, from + w), (y - rect.top) * w);
  }
}
