import type { LayerPlace, LayerPlate, Painted8 } from './place';
import type { CutPlate, ShotRasters } from '@/core/shot/rasters';
import { applyDepthEdit, type DepthEdit } from '@/core/depth/edits';
import type { Rect } from '@/core/raster/geometry';
import type { Remote } from 'comlink';
import equal from 'fast-deep-equal';
import { BrushStroke, type BrushSettings, type StrokePoint } from '@/core/depth/brush';
import type { DepthWindow } from '@/core/depth/window';
import type { Choice } from '@/core/matte/choice';
import { anaglyph } from '@/core/packing/anaglyph';
import type { DepthMap, Mask, Picture8 } from '@/core/raster/picture';
import { layOutPlates } from '@/core/shot/layOut';
import { paintPlates } from '@/core/shot/paintOn';
import { cleanColours, holePush } from '@/core/shot/plates';
import { farToNear } from '@/core/shot/document';
import { renderView, type StereoPart } from '@/core/view/renderView';
import { absoluteDepth } from '../absoluteDepth';
import { Backdrop } from '../backdrop';
import { Choosing } from '../choosing';
import { LiveFill } from '../liveFill';
import { LookBehind } from '../lookBehind';
import { drawChoice, drawDepth, drawDepthOverPicture, drawOnGround, markRim, setBack, stripeReveal } from '../draw';
import type { EyeApi } from '../eye.worker';
import { shareBuffers, shareMap, sharePicture, shareRasters } from '../shared';
import type { Behind, Frame, HandEdit, LookRequest, RevealCount, SeenDocument } from '../ways';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';

/** Which depth a brush works on: a plate's, or the back plate's (null). */
export type Target = string | null;
/** The back plate's depth behind the plates. */
export const BEHIND = 'behind';

let layers = 0;

/** A rectangle of the shot at one scale: picture, mattes and depths, and room to render views into. */
export class Layer {
  readonly picture: Picture8;
  readonly depth: DepthMap;
  /** The back plate's depth where plates hide it, once that is painted. */
  readonly behind: DepthMap | undefined;
  private held: readonly LayerPlate[];
  private readonly key = ++layers;
  private stroke: { readonly target: Target; readonly brush: BrushStroke } | undefined;
  private eyes: [ViewBuffers<Picture8>, ViewBuffers<Picture8>] | undefined;
  /** Laid out anew when a depth has changed; what was put on the plates lies on them. */
  private rasters: ShotRasters<Picture8> | undefined;
  /** The plates with nothing put on them, and the order in which they were laid out. */
  private bare: { readonly order: string; readonly rasters: ShotRasters<Picture8> } | undefined;
  /** What hands draw, on the plates as they are laid out. */
  private live: LiveFill | undefined;
  private order = '';
  private absolute: { readonly key: string; readonly map: DepthMap } | undefined;
  readonly choosing: Choosing;
  private readonly backdrop: Backdrop;
  private readonly behindView: LookBehind;
  private counts = 0;
  /** Counts up when the plates are laid out anew. */
  private stamp = 0;
  /** What the last look behind was drawn from. */
  private last: { readonly request: object; readonly stamp: number; readonly found: unknown } | undefined;

  /**
   * @param picture premultiplied
   * @param second renders the right eye and counts what is uncovered beside this worker; both see the same memory
   * @param onCounted is told when another reveal map than the one shown is known
   */
  constructor(
    readonly place: LayerPlace,
    picture: Picture8,
    depth: Uint16Array,
    plates: readonly LayerPlate[],
    private readonly second: Remote<EyeApi> | undefined,
    readonly painted: Painted8 = {},
    behind?: Uint16Array,
    onCounted?: () => void,
  ) {
    const { width, height } = picture;
    this.picture = sharePicture(picture);
    this.depth = shareMap({ width, height, data: depth });
    this.behind = behind && { width, height, data: behind };
    this.held = plates.map((p) => ({ ...p, depth: shareMap(p.depth) }));
    this.choosing = new Choosing(this.picture, place);
    this.backdrop = new Backdrop(this.picture);
    this.behindView = new LookBehind(
      second &&
        ((document, eyes, marginPx) =>
          second.reveal(this.key, ++this.counts, document, eyes, this.place.scale, marginPx)),
      onCounted,
    );
  }

  get plates(): readonly LayerPlate[] {
    return this.held;
  }

  /** Places brought-in pieces where a document says. */
  private follow(document: SeenDocument): void {
    const { width, height } = this.picture;
    let moved = false;
    const plates = this.held.map((p) => {
      if (
        !p.piece?.follow(
          document.plates.find((d) => d.id === p.id),
          this.place,
          width,
          height,
        )
      )
        return p;
      moved = true;
      return { ...p, matte: p.piece.matte! };
    });
    if (!moved) return;
    this.held = plates;
    this.rasters = undefined;
    this.bare = undefined;
    this.absolute = undefined;
    this.backdrop.forget();
  }

  /** The plates as they are laid out, far to near. @param bare without what was put on them */
  private cutPlates(document: SeenDocument, bare = false): CutPlate[] {
    return farToNear(document.plates)
      .flatMap(({ id: wanted }) => this.held.filter((p) => p.id === wanted))
      .map(({ id, matte, depth, piece, painted }) => ({
        id,
        matte,
        depth,
        ...(piece?.picture ? { picture: piece.picture } : {}),
        ...(bare ? {} : painted),
      }));
  }

  private paintedOf(plate: string | null): Painted8 {
    return plate === null ? this.painted : (this.held.find((p) => p.id === plate)?.painted ?? {});
  }

  private depthOf(target: Target): DepthMap | undefined {
    return target === BEHIND
      ? this.behind
      : target === null
        ? this.depth
        : this.plates.find((p) => p.id === target)?.depth;
  }

  private window(map: DepthMap): DepthWindow {
    return {
      left: this.place.left,
      top: this.place.top,
      scale: this.place.scale,
      width: map.width,
      height: map.height,
      data: map.data,
    };
  }

  beginStroke(settings: BrushSettings, target: Target): void {
    const map = this.depthOf(target);
    this.stroke = map && { target, brush: new BrushStroke(this.window(map), settings) };
  }

  addPoints(points: readonly StrokePoint[]): Rect | undefined {
    return this.stroke?.brush.add(points);
  }

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
    if (this.plates.length > 0) {
      this.rasters = undefined;
      this.bare = undefined;
    }
    this.absolute = undefined;
  }

  /** Depth of everything over everything, as seen from the source; the map itself where there is but the back plate. */
  absoluteMap(document: StereoPart): DepthMap {
    const key = JSON.stringify([document.depth.near, document.depth.far, document.plates]);
    if (this.absolute?.key !== key || this.stroke)
      this.absolute = { key, map: absoluteDepth(document, this.depth, this.plates) };
    return this.absolute.map;
  }

  /** The matte of the choice in work. */
  choose(choice: Choice, spare: boolean, active: string | null): Mask | undefined {
    return this.choosing.choose(choice, this.depth, this.others(spare, active));
  }

  /** Mattes of plates that keep what they hold: all that were cut from this picture but the one in work. */
  others(spare: boolean, active: string | null): Mask[] {
    return spare ? this.held.filter((p) => !p.piece && p.id !== active).map((p) => p.matte) : [];
  }

  /** Draws the picture or its depth, or a part of it in the layer's px: what a brush has touched. */
  lookFlat(request: LookRequest & { readonly borrowed?: boolean }, rect: Rect): Frame {
    const { way, document } = request;
    const data = new Uint8ClampedArray((rect.right - rect.left) * (rect.bottom - rect.top) * 4);
    this.follow(document);
    const chosen =
      request.choice &&
      (request.borrowed ? this.choosing.matte : this.choose(request.choice, request.spare, request.active));
    if (request.check) {
      const plate = this.plates.find((p) => p.id === request.active);
      const matte = request.choice ? chosen : plate?.matte;
      if (matte) {
        const own = (!request.choice && plate?.piece?.picture) || cleanColours(this.picture, matte);
        const behind =
          request.check.ground === 'behind'
            ? this.backdrop.behind(
                this.depth,
                this.cutPlates(document),
                document,
                request.choice ? undefined : (request.active ?? undefined),
                matte,
              )
            : undefined;
        drawOnGround(
          own,
          matte,
          request.check,
          rect,
          data,
          behind && { picture: behind, shift: Math.round(request.check.shiftPx * this.place.scale) },
        );
        if (request.check.rim) markRim(own, this.picture, matte, rect, data);
        return this.frameOf(rect, data);
      }
    }
    if (request.behindDepth && this.behind) {
      // The back plate alone, with its own depth through its own span.
      const ground = this.rasters?.picture ?? this.picture;
      const map = absoluteDepth({ ...document, plates: [] }, this.behind, []);
      if (way === 'picture') copyRect(ground, rect, data);
      else if (way === 'depth') drawDepth(map, rect, data);
      else drawDepthOverPicture(ground, map, rect, data, document.budget, request.depthStrength, request.contourPx);
      return this.frameOf(rect, data);
    }
    if (way === 'picture') copyRect(this.backdrop.flat(this.cutPlates(document), document), rect, data);
    else if (way === 'depth') drawDepth(this.absoluteMap(document), rect, data);
    else
      drawDepthOverPicture(
        this.picture,
        this.absoluteMap(document),
        rect,
        data,
        document.budget,
        request.depthStrength,
        request.contourPx,
      );
    if (request.choice) {
      if (chosen) drawChoice(chosen, rect, data);
    } else if (request.active !== null) {
      const plate = this.plates.find((p) => p.id === request.active);
      if (plate) setBack(plate.matte, rect, data, way === 'depth-over-picture');
    }
    return this.frameOf(rect, data);
  }

  /**
   * Draws one way to see. Where nothing but what hands draw has changed since the last time, that part alone, unless all of it is asked for.
   * @returns part: the frame is to be laid into the last whole one; none where nothing has changed
   */
  async look(
    request: LookRequest & { readonly borrowed?: boolean },
    all = false,
  ): Promise<{ frame: Frame | undefined; revealed: number; part: boolean }> {
    const { hands, ...rest } = request;
    const { way, document, behind, active } = request;
    const { width, height } = this.picture;
    const whole = { left: 0, top: 0, right: width, bottom: height };
    const last = this.last;
    this.last = undefined;
    if (behind && way === 'picture') {
      await this.prepare(document);
      const drawn = await this.followHands(hands);
      const touched = drawn.get(active);
      const { stamp, behindView } = this;
      const part =
        !all &&
        drawn.size === (touched ? 1 : 0) &&
        equal(rest, last?.request) &&
        last?.stamp === stamp &&
        last.found === behindView.found;
      const rect = part && touched ? around(touched, width, height) : whole;
      const frame =
        part && !touched
          ? undefined
          : this.frameOf(
              rect,
              behindView.draw(document, this.rasters!, active, behind, this.place.scale, this.fills(), stamp, rect),
            );
      this.last = { request: rest, stamp, found: behindView.found };
      return { frame, revealed: 0, part };
    }
    return { ...(await this.lookOtherwise(request, whole)), part: false };
  }

  private async lookOtherwise(
    request: LookRequest & { readonly borrowed?: boolean },
    whole: Rect,
  ): Promise<{ frame: Frame; revealed: number }> {
    const { way, document } = request;
    const { width, height } = this.picture;
    if (request.behindDepth && isFlat(way)) await this.prepare(document);
    if (isFlat(way)) return { frame: this.lookFlat(request, whole), revealed: 0 };
    await this.prepare(document);
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

  private fills(): ReadonlyMap<string | null, Picture8 | undefined> {
    return new Map(
      [null, ...this.held.map((p) => p.id)].map((id) => [id, this.live?.fillOf(id) ?? this.paintedOf(id).fill]),
    );
  }

  /** Lays the plates out as a document says. */
  async prepare(document: SeenDocument): Promise<void> {
    this.follow(document);
    await this.layOut(document);
  }

  /** What the views uncover of every plate, nearest first, full-size px, once it is prepared; undefined where something newer was asked for meanwhile. */
  revealCounts(document: SeenDocument, behind: Behind): Promise<RevealCount[] | undefined> {
    return this.behindView.counts(document, this.rasters!, behind, this.place.scale, this.fills(), this.stamp);
  }

  /** Where a plate is stretched most, full-size px. */
  async worstStretch(document: SeenDocument, active: string | null): Promise<{ x: number; y: number; factor: number }> {
    await this.prepare(document);
    const { worst } = this.behindView.stretch(document, this.rasters!, active, this.place.scale);
    const { left, top, scale } = this.place;
    return { x: Math.round(left + worst.x / scale), y: Math.round(top + worst.y / scale), factor: worst.factor };
  }

  /** Makes sure that plates and buffers are there, for this worker and the second one. */
  private async layOut(document: SeenDocument): Promise<void> {
    const { width, height } = this.picture;
    this.eyes ??= [shareBuffers(width, height), shareBuffers(width, height)];
    const order = `${document.holePx} ${farToNear(document.plates)
      .map((p) => p.id)
      .join()}`;
    if (this.rasters && order === this.order) return;
    this.order = order;
    this.stamp++;
    this.bare =
      this.bare?.order === order
        ? this.bare
        : {
            order,
            rasters: layOutPlates(this.picture, this.depth, this.cutPlates(document, true), {
              push: (document.holePx ?? holePush(document.source.width)) * this.place.scale,
              ...(this.behind ? { behind: this.behind } : {}),
            }),
          };
    const shared = shareRasters(this.bare.rasters, this.picture, this.depth, this.painted.overpaint !== undefined);
    this.rasters = paintPlates(shared, this.picture, [
      { id: null, ...this.painted },
      ...this.held.map((p) => ({ id: p.id, ...p.painted })),
    ]);
    this.live = new LiveFill(this.bare.rasters, (plate) => this.paintedOf(plate), this.place);
    await this.second?.take(this.key, this.rasters, this.eyes[1]);
  }

  /** Shows what hands draw. */
  private async followHands(hands: readonly HandEdit[]): Promise<ReadonlyMap<string | null, Rect>> {
    if (hands.length > 0 && this.rasters!.picture === this.picture) {
      // The source itself is never drawn on.
      this.rasters = { ...this.rasters!, picture: sharePicture(this.picture) };
      await this.second?.take(this.key, this.rasters, this.eyes![1]);
    }
    return this.live!.follow(hands, this.rasters!);
  }

  /** Takes over how another layer of the same place has laid the same plates out, and what it knows of them: only what was put on them differs. */
  inherit(from: Layer): void {
    // Without plates the layer's own picture and depth are what is laid out.
    if (!from.rasters || this.held.length === 0) return;
    this.bare = from.bare;
    this.behindView.inherit(from.behindView, from.stamp, this.stamp + 1);
  }

  /** The next look is drawn whole. */
  drawWhole(): void {
    this.last = undefined;
  }

  /** Frees what the second worker holds for this layer. */
  end(): void {
    void this.second?.forget(this.key);
  }

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
    const { revealedCount, picture, revealed } = renderView(
      document,
      this.rasters!,
      which - 0.5,
      this.place.scale,
      'fill',
      this.eyes![which],
    );
    if (mark) stripeReveal(picture, revealed);
    return revealedCount / (picture.width * picture.height);
  }

  private frameOf(rect: Rect, data: Uint8ClampedArray): Frame {
    const { left, top, scale } = this.place;
    return {
      left: left + rect.left / scale,
      top: top + rect.top / scale,
      right: left + rect.right / scale,
      bottom: top + rect.bottom / scale,
      width: rect.right - rect.left,
      height: rect.bottom - rect.top,
      data: data as Uint8ClampedArray<ArrayBuffer>,
    };
  }
}

/** True for the ways that show the source itself, where a brush can land and a part can be drawn alone. */
export function isFlat(way: LookRequest['way']): boolean {
  return way === 'picture' || way === 'depth' || way === 'depth-over-picture';
}

/** A touched rectangle with its neighbours: marks depend on those. */
const around = ({ left, top, right, bottom }: Rect, width: number, height: number): Rect => ({
  left: Math.max(0, left - 1),
  top: Math.max(0, top - 1),
  right: Math.min(width, right + 1),
  bottom: Math.min(height, bottom + 1),
});

function copyRect(picture: Picture8, rect: Rect, out: Uint8ClampedArray): void {
  const w = (rect.right - rect.left) * 4;
  for (let y = rect.top; y < rect.bottom; y++) {
    const from = (y * picture.width + rect.left) * 4;
    out.set(picture.data.subarray(from, from + w), (y - rect.top) * w);
  }
}
