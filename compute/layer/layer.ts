import type { Remote } from 'comlink';
import type { StrokePoint, BrushSettings } from '@/core/depth/brush';
import type { DepthEdit } from '@/core/depth/edits';
import type { Choice } from '@/core/matte/choice';
import type { Rect } from '@/core/raster/geometry';
import type { DepthMap, Mask, Premultiplied8 } from '@/core/raster/picture';
import type { Revealed } from '@/core/fill/revealMap';
import type { MoveLook } from '@/core/move/moveReveal';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { EyeApi } from '../eye.worker';
import type { Frame } from '../look';
import { AbsoluteDepth } from './absoluteDepth';
import { Backdrop } from './backdrop';
import { Choosing } from './choosing';
import { Eyes } from './eyes';
import { Layout } from './layout';
import { LookBehind } from './lookBehind';
import { MovedEyes } from './movedEyes';
import type { LayerPlace, LayerPlate, Painted8 } from './place';
import { shareMap, sharePicture } from './shared';
import { BEHIND, Strokes, type Target } from './strokes';

let layers = 0;

/** A choice in work, and what it may take. */
export interface Chosen {
  readonly choice: Choice | undefined;
  /** It leaves to other plates what they hold. */
  readonly spare: boolean;
  /** The plate in work. */
  readonly active: string | null;
}

/** What a layer is made of. */
export interface LayerParts {
  readonly place: LayerPlace;
  /** Premultiplied. */
  readonly picture: Premultiplied8;
  readonly depth: Uint16Array;
  readonly plates: readonly LayerPlate[];
  /** What was put on the back plate. @default nothing */
  readonly painted?: Painted8;
  /** The back plate's depth where plates hide it, once that is painted. */
  readonly behind?: Uint16Array;
}

export interface LayerHelpers {
  /**
   * Renders the right eye and counts what is uncovered beside this worker; both see the same memory. @default all is
   * done here
   */
  readonly second?: Remote<EyeApi>;
  /** Is told when another reveal map than the one shown is known. */
  onCounted?(): void;
}

/** A rectangle of the shot at one scale: its rasters, and how they are laid out. Lenses (compute/lenses) draw it. */
export class Layer {
  readonly place: LayerPlace;
  readonly picture: Premultiplied8;
  readonly depth: DepthMap;
  /** The back plate's depth where plates hide it, once that is painted. */
  readonly behind: DepthMap | undefined;
  readonly painted: Painted8;
  readonly choosing: Choosing;
  readonly backdrop: Backdrop;
  readonly behindView: LookBehind;
  /** For a window in detail: what the whole picture knows of what is uncovered. */
  lent: { readonly found: readonly Revealed[]; readonly place: LayerPlace } | undefined;
  readonly layout: Layout;
  readonly eyes: Eyes;
  readonly movedEyes: MovedEyes;
  private readonly absolute: AbsoluteDepth;
  private readonly strokes: Strokes;
  /** What a lens drew last, so that it can draw only what is new; another lens forgets it. */
  lastDrawn: unknown;
  lastLens: string | undefined;
  private scene: SceneFrame | undefined;

  constructor(
    { place, picture, depth, plates, painted = {}, behind }: LayerParts,
    { second, onCounted }: LayerHelpers = {},
  ) {
    const { width, height } = picture;
    const key = ++layers;
    this.place = place;
    this.painted = painted;
    this.picture = sharePicture(picture);
    this.depth = shareMap({ width, height, data: depth });
    this.behind = behind && { width, height, data: behind };
    this.choosing = new Choosing(this.picture, place);
    this.backdrop = new Backdrop(this.picture);
    this.absolute = new AbsoluteDepth(this.depth);
    this.eyes = new Eyes(key, second, place);
    this.movedEyes = new MovedEyes(key, second, place);
    this.layout = new Layout(
      this,
      plates.map((p) => ({ ...p, depth: shareMap(p.depth) })),
      this.eyes,
    );
    this.strokes = new Strokes(
      place,
      (target) => this.depthOf(target),
      () => this.picture.data,
    );
    let counts = 0;
    const elsewhere = second && {
      count: (scene: SceneFrame, eyes: readonly number[], marginPx: number, move: MoveLook | null) =>
        second.reveal({ layer: key, count: ++counts, scene, eyes, scale: place.scale, marginPx, move }),
    };
    this.behindView = new LookBehind(elsewhere?.count, onCounted);
  }

  get plates(): readonly LayerPlate[] {
    return this.layout.all;
  }

  /** A depth map of this layer; undefined where it has none. */
  depthOf(target: Target): DepthMap | undefined {
    if (target === BEHIND) return this.behind;
    return target === null ? this.depth : this.plates.find((p) => p.id === target)?.depth;
  }

  beginStroke(settings: BrushSettings, target: Target): void {
    this.strokes.begin(settings, target);
  }

  /** @returns what has changed, px of the layer */
  addPoints(points: readonly StrokePoint[]): Rect | undefined {
    const touched = this.strokes.add(points);
    if (touched && this.scene) this.absolute.touch(this.scene, this.plates, touched);
    return touched;
  }

  endStroke(): void {
    this.strokes.end();
    this.depthChanged();
  }

  apply(edit: DepthEdit, target: Target): void {
    this.strokes.apply(edit, target);
    this.depthChanged();
  }

  /** A depth map was written to from outside. */
  depthChanged(): void {
    this.layout.depthChanged();
    this.absolute.forget();
    this.movedEyes.forget();
    this.choosing.forget();
  }

  /** Places brought-in pieces where a scene says. */
  follow(scene: SceneFrame): void {
    this.scene = scene;
    if (!this.layout.follow(scene)) return;
    this.absolute.forget();
    this.backdrop.forget();
  }

  /** Lays the plates out as a scene says. */
  async prepare(scene: SceneFrame): Promise<void> {
    this.follow(scene);
    await this.layout.prepare(scene);
  }

  /** Depth of everything over everything, as seen from the source; the map itself where there is but the back plate. */
  absoluteMap(scene: SceneFrame): DepthMap {
    this.scene = scene;
    return this.absolute.map(scene, this.plates);
  }

  /** Mattes of plates that keep what they hold: all that were cut from this picture but the one in work. */
  others(spare: boolean, active: string | null): Mask[] {
    return spare ? this.plates.filter((p) => !p.piece && p.id !== active).map((p) => p.matte) : [];
  }

  /** The matte of the choice in work. */
  choose(choice: Choice, spare: boolean, active: string | null): Mask | undefined {
    return this.choosing.choose(choice, this.depth, this.others(spare, active));
  }

  /** What is chosen on this layer; in a window in detail what was taken over from the whole picture. */
  chosenOf({ choice, spare, active }: Chosen): Mask | undefined {
    if (this.choosing.lent) return this.choosing.matte;
    return choice && this.choose(choice, spare, active);
  }

  /** Where what is chosen on this layer is unsure. */
  unsure(): Mask | undefined {
    return this.choosing.unsure(this.depth);
  }

  /**
   * Takes over how another layer of the same place has laid the same plates out, and what it knows of them: only what
   * was put on them differs.
   */
  inherit(from: Layer): void {
    if (this.layout.inherit(from.layout))
      this.behindView.inherit(from.behindView, from.layout.stamp, this.layout.stamp + 1);
  }

  /** Frees what the second worker holds for this layer. */
  end(): void {
    this.eyes.end();
  }

  /** All of the layer, px. */
  get whole(): Rect {
    return { left: 0, top: 0, right: this.picture.width, bottom: this.picture.height };
  }

  /** A drawn rectangle, where it belongs. */
  frameOf(rect: Rect, data: Uint8ClampedArray): Frame {
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
