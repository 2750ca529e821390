import { layOutPlates } from '@/core/shot/layOut';
import { paintPlates } from '@/core/shot/paintOn';
import type { Rect } from '@/core/raster/geometry';
import type { DepthMap, Premultiplied8, Straight } from '@/core/raster/picture';
import type { SceneFrame } from '@/core/scene/sceneOf';
import type { CutPlate, ShotRasters } from '@/core/shot/rasters';
import type { HandEdit } from '../look';
import type { Eyes } from './eyes';
import { LiveFill } from './liveFill';
import type { LayerPlace, LayerPlate, Painted8 } from './place';
import { sharePicture, shareRasters } from './shared';

/** What a layer holds before it is laid out. */
export interface LayerRasters {
  readonly place: LayerPlace;
  readonly picture: Premultiplied8;
  readonly depth: DepthMap;
  /** The back plate's depth where plates hide it, once that is painted. */
  readonly behind: DepthMap | undefined;
  /** What was put on the back plate. */
  readonly painted: Painted8;
}

/** A layer's plates, laid out as a scene says: anew when their order or a depth has changed. */
export class Layout {
  private laid: ShotRasters<Premultiplied8> | undefined;
  /** The plates with nothing put on them, and the scene's layout by which they lie. */
  private bare: { readonly layout: string; readonly rasters: ShotRasters<Premultiplied8> } | undefined;
  /** What hands draw, on the plates as they are laid out. */
  private live: LiveFill | undefined;
  private layout = '';
  /** Counts up when the plates are laid out anew. */
  stamp = 0;

  constructor(
    private readonly held: LayerRasters,
    private plates: readonly LayerPlate[],
    private readonly eyes: Eyes,
  ) {}

  /** The plates that are held, brought-in ones in their places. */
  get all(): readonly LayerPlate[] {
    return this.plates;
  }

  /** The plates as they are laid out; only after `prepare`. */
  get rasters(): ShotRasters<Premultiplied8> {
    return this.laid!;
  }

  /** Places brought-in pieces where a scene says; true where any had to be made anew. */
  follow(scene: SceneFrame): boolean {
    const { place, picture } = this.held;
    let moved = false;
    const plates = this.plates.map((p) => {
      const placed = scene.plates.find((s) => s.id === p.id)?.piece;
      if (!placed || !p.piece?.follow(placed, { ...place, width: picture.width, height: picture.height })) return p;
      moved = true;
      return { ...p, matte: p.piece.matte! };
    });
    if (!moved) return false;
    this.plates = plates;
    this.depthChanged();
    return true;
  }

  /** The plates that a scene has, far to near. @param painted with what was put on them @default true */
  cutPlates(scene: SceneFrame, painted = true): CutPlate[] {
    return scene.plates.flatMap(({ id }) => {
      const plate = this.plates.find((p) => p.id === id);
      if (!plate) return [];
      const { matte, depth, piece } = plate;
      return [
        { id, matte, depth, ...(piece?.picture ? { picture: piece.picture } : {}), ...(painted ? plate.painted : {}) },
      ];
    });
  }

  paintedOf(plate: string | null): Painted8 {
    return plate === null ? this.held.painted : (this.plates.find((p) => p.id === plate)?.painted ?? {});
  }

  /** What is filled in behind each plate, as it is shown. */
  fills(): ReadonlyMap<string | null, Straight | undefined> {
    const ids = [null, ...this.plates.map((p) => p.id)];
    return new Map(ids.map((id) => [id, this.live?.fillOf(id) ?? this.paintedOf(id).fill]));
  }

  /** A map has changed: what lies behind others goes on otherwise. */
  depthChanged(): void {
    if (this.plates.length === 0) return;
    this.laid = undefined;
    this.bare = undefined;
  }

  /** Makes sure that the plates lie as a scene says, for this worker and the second one. */
  async prepare(scene: SceneFrame): Promise<void> {
    this.follow(scene);
    const { picture, depth, behind, painted, place } = this.held;
    this.eyes.open(picture.width, picture.height);
    if (this.laid && scene.layout === this.layout) return;
    this.layout = scene.layout;
    this.stamp++;
    if (this.bare?.layout !== scene.layout) {
      const rasters = layOutPlates(picture, depth, this.cutPlates(scene, false), {
        push: scene.holePx * place.scale,
        ...(behind ? { behind } : {}),
      });
      this.bare = { layout: scene.layout, rasters };
    }
    const { rasters } = this.bare;
    const shared = shareRasters(rasters, picture, depth, painted.overpaint !== undefined);
    this.laid = paintPlates(shared, picture, [
      { id: null, ...painted },
      ...this.plates.map((p) => ({ id: p.id, ...p.painted })),
    ]);
    this.live = new LiveFill(rasters, (plate) => this.paintedOf(plate), place);
    await this.eyes.take(this.laid);
  }

  /** Shows what hands draw; only after `prepare`. @returns what has changed on each plate */
  async followHands(hands: readonly HandEdit[]): Promise<ReadonlyMap<string | null, Rect>> {
    if (hands.length > 0 && this.laid!.picture === this.held.picture) {
      // The source itself is never drawn on.
      this.laid = { ...this.laid!, picture: sharePicture(this.held.picture) };
      await this.eyes.take(this.laid);
    }
    return this.live!.follow(hands, this.laid!);
  }

  /**
   * Takes over how another layout of the same plates was made: only what was put on them differs. False where it was
   * not made yet.
   */
  inherit(from: Layout): boolean {
    // Without plates the layer's own picture and depth are what is laid out.
    if (!from.laid || this.plates.length === 0) return false;
    this.bare = from.bare;
    return true;
  }
}
