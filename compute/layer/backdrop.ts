import { drawnOf, type SceneFrame } from '@/core/scene/sceneOf';
import type { CutPlate } from '@/core/shot/rasters';
import { copyPicture, type DepthMap, type Mask, type Premultiplied8 } from '@/core/raster/picture';
import { layOutPlates } from '@/core/shot/layOut';
import { over } from '@/core/stereo/over';

/**
 * What is seen from the source's own camera: everything with brought-in pieces, or what lies behind a cut. Kept while
 * nothing changes.
 */
export class Backdrop {
  private flatKey: string | undefined;
  private flatPicture: Premultiplied8 | undefined;
  private behindOf: { readonly matte: Mask; readonly key: string; readonly picture: Premultiplied8 } | undefined;

  constructor(private readonly source: Premultiplied8) {}

  forget(): void {
    this.flatKey = undefined;
    this.behindOf = undefined;
  }

  /** The source with brought-in pieces in their places; the source itself where there are none. */
  flat(plates: readonly CutPlate[], scene: SceneFrame): Premultiplied8 {
    const drawn = drawnOf(scene);
    const pieces = drawn.filter((d) => plates.some((p) => p.id === d.id && p.picture));
    if (pieces.length === 0) return this.source;
    const key = keyOf(scene);
    if (key === this.flatKey && this.flatPicture) return this.flatPicture;
    // Plates that were cut from the source cover pieces behind them with what they hold of it.
    const shown = drawn.flatMap((d) => plates.filter((p) => p.id === d.id));
    const data = this.source.data.slice();
    for (const { matte, picture } of shown.slice(shown.findIndex((p) => p.picture))) {
      const colours = (picture ?? this.source).data;
      for (let i = 0, o = 0; i < matte.data.length; i++, o += 4) {
        const a = matte.data[i];
        if (a !== 0) for (let c = o; c < o + 3; c++) data[c] = (colours[c] * a + data[c] * (255 - a)) / 255;
      }
    }
    this.flatKey = key;
    return (this.flatPicture = { ...this.source, data });
  }

  /** What lies behind a plate, or behind a choice (then all plates lie behind), with the hole filled. */
  behind(
    depth: DepthMap,
    plates: readonly CutPlate[],
    scene: SceneFrame,
    { plate, matte }: { readonly plate: string | undefined; readonly matte: Mask },
  ): Premultiplied8 {
    const key = `${plate ?? ''} ${keyOf(scene)}`;
    if (this.behindOf?.matte === matte && this.behindOf.key === key) return this.behindOf.picture;
    const cut = plate === undefined ? [...plates, { id: '', matte, depth }] : [...plates];
    const laid = layOutPlates(this.source, depth, cut);
    const drawn = drawnOf(scene);
    const at = drawn.findIndex((d) => d.id === plate);
    const picture = laid.picture === this.source ? copyPicture(this.source) : laid.picture;
    for (const { id } of at < 0 ? drawn : drawn.slice(0, at)) {
      const raster = laid.plates.find((p) => p.id === id);
      if (raster) over(picture, raster.picture, raster);
    }
    this.behindOf = { matte, key, picture };
    return picture;
  }
}

/** What decides what is seen from the source's own camera. */
const keyOf = ({ layout, plates }: SceneFrame): string =>
  `${layout} ${plates.map((p) => [p.id, p.hidden, p.near, p.far].join()).join(' ')}`;
