import type { LayerPlace } from './place';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { guidedMatte } from '@/core/matte/guidedMatte';
import { spareOthers } from '@/core/matte/share';
import type { DepthMap, Mask, Picture8 } from '@/core/raster/picture';

interface Chosen {
  readonly key: string;
  readonly choice: Choice;
  readonly matte: Mask | undefined;
  readonly others: readonly Mask[];
  readonly trimap: Mask | undefined;
}

/** The matte of the choice in work at one layer's size: a quick one at once, the solved one when it has been made elsewhere. */
export class Choosing {
  /** True where the choice is taken over from another layer. */
  lent = false;
  private maker: ChoiceMaker | undefined;
  private chosen: Chosen | undefined;
  private doubt: { readonly key: string; readonly mask: Mask | undefined } | undefined;

  constructor(
    private readonly picture: Picture8,
    private readonly place: LayerPlace,
  ) {}

  /**
   * Kept while the choice stays the same; undefined where nothing is chosen or it cannot be made yet. @param others
   * mattes that keep what they hold
   */
  choose(choice: Choice, depth: DepthMap, others: readonly Mask[]): Mask | undefined {
    const key = keyOf(choice, others);
    if (this.chosen?.key === key) return this.chosen.matte;
    this.maker ??= new ChoiceMaker(this.picture, {
      left: this.place.left,
      top: this.place.top,
      scale: this.place.scale,
    });
    try {
      const { matte, trimap } = this.maker.begin(choice, depth);
      // A band needs a sure side each; strokes may have covered one of them.
      const solvable = trimap && trimap.data.includes(255) && trimap.data.includes(0) ? trimap : undefined;
      this.chosen = {
        key,
        choice,
        others,
        trimap: solvable,
        matte: spareOthers(
          this.maker.finish(solvable ? guidedMatte(this.picture, solvable) : matte, choice.edge),
          others,
        ),
      };
    } catch {
      this.chosen = { key, choice, others, matte: undefined, trimap: undefined };
    }
    return this.chosen.matte;
  }

  /** The depth map has changed, which may have a say. */
  forget(): void {
    if (!this.lent) this.chosen = this.doubt = undefined;
  }

  /** Where what was chosen last is unsure, 255; undefined where that is told of nothing in it. */
  unsure(depth: DepthMap): Mask | undefined {
    const { chosen, maker } = this;
    if (this.lent || !chosen?.matte || !maker) return this.doubt?.mask;
    if (this.doubt?.key !== chosen.key) this.doubt = { key: chosen.key, mask: maker.unsure(chosen.choice, depth) };
    return this.doubt.mask;
  }

  /** The band that is only seen quickly so far. */
  get pending(): { readonly key: string; readonly trimap: Mask } | undefined {
    return this.chosen?.trimap && { key: this.chosen.key, trimap: this.chosen.trimap };
  }

  /** Takes the solved coverage, unless the choice has changed meanwhile. */
  solved(key: string, matte: Mask): void {
    if (this.chosen?.key !== key || !this.maker) return;
    const { choice, others } = this.chosen;
    this.chosen = {
      key,
      choice,
      others,
      trimap: undefined,
      matte: spareOthers(this.maker.finish(matte, choice.edge), others),
    };
  }

  /**
   * Takes a choice's matte from another layer, linear between its pixels: a window in detail may hold none of the strokes or
   * seeds that the choice was made of.
   */
  borrow(
    {
      choice,
      others,
      matte,
      unsure,
    }: {
      readonly choice: Choice;
      readonly others: readonly Mask[];
      readonly matte: Mask | undefined;
      readonly unsure: Mask | undefined;
    },
    from: LayerPlace,
    state: string,
  ): void {
    this.lent = true;
    const key = `${state} ${keyOf(choice, others)}`;
    if (this.chosen?.key === key) return;
    this.chosen = { key, choice, others, matte: matte && this.near(matte, from), trimap: undefined };
    this.doubt = { key, mask: unsure && this.near(unsure, from) };
  }

  /** A mask of another layer, linear between its pixels. */
  private near(mask: Mask, from: LayerPlace): Mask {
    const { width, height } = this.picture;
    const data = new Uint8Array(width * height);
    const m = mask.data;
    for (let y = 0, i = 0; y < height; y++) {
      const v = Math.min(
        mask.height - 1,
        Math.max(0, ((y + 0.5) / this.place.scale + this.place.top - from.top) * from.scale - 0.5),
      );
      const y0 = Math.floor(v);
      const y1 = Math.min(mask.height - 1, y0 + 1);
      const fy = v - y0;
      const a = y0 * mask.width;
      const b = y1 * mask.width;
      for (let x = 0; x < width; x++, i++) {
        const u = Math.min(
          mask.width - 1,
          Math.max(0, ((x + 0.5) / this.place.scale + this.place.left - from.left) * from.scale - 0.5),
        );
        const x0 = Math.floor(u);
        const x1 = Math.min(mask.width - 1, x0 + 1);
        const fx = u - x0;
        data[i] = (m[a + x0] * (1 - fx) + m[a + x1] * fx) * (1 - fy) + (m[b + x0] * (1 - fx) + m[b + x1] * fx) * fy;
      }
    }
    return { width, height, data };
  }

  /** What was chosen or borrowed last. */
  get matte(): Mask | undefined {
    return this.chosen?.matte;
  }
}

const names = new WeakMap<Mask, number>();
let named = 0;

function keyOf(choice: Choice, others: readonly Mask[]): string {
  const marks = others.map((m) => {
    let n = names.get(m);
    if (n === undefined) names.set(m, (n = ++named));
    return n;
  });
  return `${marks.join(',')} ${JSON.stringify(choice)}`;
}
