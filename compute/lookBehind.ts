import type { ShotRasters } from '@/core/shot/rasters';
import type { Rect } from '@/core/raster/geometry';
import { plateGround } from '@/core/fill/plateGround';
import { cropPicture } from '@/core/raster/crop';
import type { Picture8 } from '@/core/raster/picture';
import { drawnPlates } from '@/core/shot/document';
import { mapBudget } from '@/core/view/renderView';
import { sourceEyePosition } from '@/core/stereo/parallax';
import { stretchOf, type Stretch } from '@/core/stereo/stretch';
import { RevealCounter, revealOrder, type CountElsewhere } from './revealCounter';
import type { Behind, RevealCount, SeenDocument } from './ways';

/** What the fill stage shows and counts on one layer. While a reveal map is counted in another worker the last one is shown. */
export class LookBehind {
  private readonly counter: RevealCounter;

  constructor(elsewhere?: CountElsewhere, onCounted?: () => void) {
    this.counter = new RevealCounter(elsewhere, onCounted);
  }

  /** Takes over what another layer knows of the same plates. */
  inherit(other: LookBehind, stamp: number, now: number): void {
    this.counter.inherit(other.counter, stamp, now);
  }

  /** The newest reveal map. */
  get found(): unknown {
    return this.counter.found;
  }

  /** A rectangle of the picture with the nearer plates than `active` pushed aside, and what is uncovered or stretched marked. */
  draw(
    document: SeenDocument,
    rasters: ShotRasters<Picture8>,
    active: string | null,
    behind: Behind,
    scale: number,
    fills: ReadonlyMap<string | null, Picture8 | undefined>,
    stamp: number,
    rect: Rect,
  ): Uint8ClampedArray {
    const { width, height } = rasters.picture;
    const { left, top, right, bottom } = rect;
    const w = right - left;
    const drawn = drawnPlates(document.plates);
    const at = drawn.findIndex((p) => p.id === active);
    const data = new Uint8ClampedArray(cropPicture(rasters.picture, rect).data);
    drawn.forEach((p, n) => {
      const raster = rasters.plates.find((r) => r.id === p.id);
      if (!raster) return;
      // What lies nearer steps aside; the one in work, and what lies behind it, stay.
      const aside = n > at ? Math.round(behind.asidePx * scale) : 0;
      const px = raster.picture.data;
      const first = Math.max(left, aside);
      const end = Math.min(right, width + aside);
      for (let y = Math.max(top, raster.top); y < Math.min(bottom, raster.top + raster.picture.height); y++) {
        for (
          let x = first, i = ((y - raster.top) * width + x - aside) * 4, o = ((y - top) * w + x - left) * 4;
          x < end;
          x++, i += 4, o += 4
        ) {
          const a = px[i + 3];
          if (a === 0) continue;
          for (let c = 0; c < 3; c++) data[o + c] = px[i + c] + (data[o + c] * (255 - a)) / 255;
        }
      }
    });
    if (behind.reveal) {
      void this.counter.want(revealOrder(document, rasters, scale, behind, stamp));
      const one = this.counter.found.find((r) => r.id === active);
      const fill = fills.get(active);
      if (one) markReveal(one.mask.data, fill, width, height, rect, data);
    }
    if (behind.stretch) markStretch(this.stretch(document, rasters, active, scale), width, rect, data);
    return data;
  }

  stretch(document: SeenDocument, rasters: ShotRasters<Picture8>, active: string | null, scale: number): Stretch {
    const plate = document.plates.find((p) => p.id === active);
    const ground = plateGround(rasters, active);
    const budget = mapBudget(document, plate?.depth ?? document.depth);
    const raster = rasters.plates.find((r) => r.id === active);
    const depth = raster
      ? {
          width: raster.depth.width,
          height: rasters.picture.height,
          data: new Uint16Array(rasters.picture.width * rasters.picture.height),
        }
      : rasters.depth;
    if (raster) depth.data.set(raster.depth.data, raster.top * rasters.picture.width);
    const cover = ground && {
      ...ground.own,
      data: ground.own.data.map((v, i) => (v || ground.hidden.data[i] ? 255 : 0)),
    };
    const home = sourceEyePosition(document.sourceEye);
    return stretchOf(
      depth,
      { nearPx: budget.nearPx * scale, farPx: budget.farPx * scale },
      (plate?.tearPx ?? document.tearPx) * scale,
      Math.max(0.5 - home, 0.5 + home),
      cover,
    );
  }

  /** Counts at full size, nearest plate first; undefined where something newer was asked for meanwhile. */
  async counts(
    document: SeenDocument,
    rasters: ShotRasters<Picture8>,
    behind: Behind,
    scale: number,
    fills: ReadonlyMap<string | null, Picture8 | undefined>,
    stamp: number,
  ): Promise<RevealCount[] | undefined> {
    if (!(await this.counter.want(revealOrder(document, rasters, scale, behind, stamp)))) return undefined;
    const full = 1 / scale ** 2;
    return this.counter.found.map((r) => {
      const fill = fills.get(r.id);
      let open = 0;
      for (let i = 0; i < r.mask.data.length; i++) if (r.mask.data[i] && (!fill || fill.data[i * 4 + 3] < 128)) open++;
      return {
        id: r.id,
        revealed: Math.round(r.count * full),
        open: Math.round(open * full),
        torn: Math.round(r.torn * full),
        share: r.covers > 0 ? r.count / r.covers : 0,
      };
    });
  }
}

/** Open pixels are striped in brick and paper; filled ones keep their picture within a line of pale cork. */
function markReveal(
  mask: Uint8Array,
  fill: Picture8 | undefined,
  width: number,
  height: number,
  { left, top, right, bottom }: Rect,
  out: Uint8ClampedArray,
): void {
  for (let y = top, o = 0; y < bottom; y++) {
    for (let x = left, i = y * width + x; x < right; x++, i++, o += 4) {
      if (!mask[i]) continue;
      if (fill && fill.data[i * 4 + 3] >= 128) {
        if (
          x > 0 &&
          mask[i - 1] &&
          x < width - 1 &&
          mask[i + 1] &&
          y > 0 &&
          mask[i - width] &&
          y < height - 1 &&
          mask[i + width]
        )
          continue;
        out[o] = 255;
        out[o + 1] = 217;
        out[o + 2] = 160;
        continue;
      }
      const brick = (x + y) % 10 < 5;
      out[o] = brick ? 154 : 243;
      out[o + 1] = brick ? 52 : 240;
      out[o + 2] = brick ? 32 : 234;
    }
  }
}

/** Stretched pixels glow: pale from a fifth wider, brick from twice as wide. */
function markStretch(
  { factor }: Stretch,
  width: number,
  { left, top, right, bottom }: Rect,
  out: Uint8ClampedArray,
): void {
  for (let y = top, o = 0; y < bottom; y++) {
    for (let x = left, i = y * width + x; x < right; x++, i++, o += 4) {
      const f = factor[i];
      if (f < 1.2) continue;
      const t = Math.min(1, (f - 1.2) / 0.8);
      out[o] += (214 - out[o]) * (0.45 + 0.5 * t);
      out[o + 1] += (190 - 128 * t - out[o + 1]) * (0.45 + 0.5 * t);
      out[o + 2] += (60 - 26 * t - out[o + 2]) * (0.45 + 0.5 * t);
    }
  }
}
