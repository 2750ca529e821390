import { plateGround } from '@/core/fill/plateGround';
import type { Picture8 } from '@/core/raster/picture';
import { drawnPlates } from '@/core/shot/document';
import { mapBudget } from '@/core/shot/renderView';
import type { ShotRasters } from '@/core/shot/plates';
import { sourceEyePosition } from '@/core/stereo/parallax';
import { stretchOf, type Stretch } from '@/core/stereo/stretch';
import { RevealCounter, revealOrder, type CountElsewhere } from './revealCounter';
import type { Behind, RevealCount, SeenDocument } from './ways';

/** What the fill stage shows and counts on one layer. While a reveal map is counted in another worker the last one is shown. */
export class LookBehind {
  private readonly counter: RevealCounter;

  constructor(elsewhere?: CountElsewhere, onCounted?: () => void) { this.counter = new RevealCounter(elsewhere, onCounted); }

  /** The picture with the nearer plates than `active` pushed aside, and what is uncovered or stretched marked. */
  draw(document: SeenDocument, rasters: ShotRasters<Picture8>, active: string | null, behind: Behind, scale: number, fills: ReadonlyMap<string | null, Picture8 | undefined>, stamp: number): Uint8ClampedArray {
    const { width, height } = rasters.picture, data = new Uint8ClampedArray(rasters.picture.data), drawn = drawnPlates(document.plates), at = drawn.findIndex((p) => p.id === active);
    drawn.forEach((p, n) => {
      const raster = rasters.plates.find((r) => r.id === p.id);
      if (!raster) return;
      // What lies nearer steps aside; the one in work, and what lies behind it, stay.
      const aside = n > at ? Math.round(behind.asidePx * scale) : 0, px = raster.picture.data;
      for (let y = 0; y < raster.picture.height; y++) {
        for (let x = 0; x < width; x++) {
          const i = (y * width + x) * 4, a = px[i + 3], to = x + aside;
          if (a === 0 || to < 0 || to >= width) continue;
          const o = ((raster.top + y) * width + to) * 4;
          for (let c = 0; c < 3; c++) data[o + c] = px[i + c] + (data[o + c] * (255 - a)) / 255;
        }
      }
    });
    if (behind.reveal) {
      void this.counter.want(revealOrder(document, rasters, scale, behind, stamp));
      const one = this.counter.found.find((r) => r.id === active), fill = fills.get(active);
      if (one) markReveal(one.mask.data, fill, width, height, data);
    }
    if (behind.stretch) markStretch(this.stretch(document, rasters, active, scale), data);
    return data;
  }

  stretch(document: SeenDocument, rasters: ShotRasters<Picture8>, active: string | null, scale: number): Stretch {
    const plate = document.plates.find((p) => p.id === active), ground = plateGround(rasters, active), budget = mapBudget(document, plate?.depth ?? document.depth);
    const raster = rasters.plates.find((r) => r.id === active), depth = raster ? { width: raster.depth.width, height: rasters.picture.height, data: new Uint16Array(rasters.picture.width * rasters.picture.height) } : rasters.depth;
    if (raster) depth.data.set(raster.depth.data, raster.top * rasters.picture.width);
    const cover = ground && { ...ground.own, data: ground.own.data.map((v, i) => (v || ground.hidden.data[i] ? 255 : 0)) };
    const home = sourceEyePosition(document.sourceEye);
    return stretchOf(depth, { nearPx: budget.nearPx * scale, farPx: budget.farPx * scale }, (plate?.tearPx ?? document.tearPx) * scale, Math.max(0.5 - home, 0.5 + home), cover);
  }

  /** Counts at full size, nearest plate first; undefined where something newer was asked for meanwhile. */
  async counts(document: SeenDocument, rasters: ShotRasters<Picture8>, behind: Behind, scale: number, fills: ReadonlyMap<string | null, Picture8 | undefined>, stamp: number): Promise<RevealCount[] | undefined> {
    if (!(await this.counter.want(revealOrder(document, rasters, scale, behind, stamp)))) return undefined;
    const full = 1 / scale ** 2;
    return this.counter.found.map((r) => {
      const fill = fills.get(r.id);
      let open = 0;
      for (let i = 0; i < r.mask.data.length; i++) if (r.mask.data[i] && (!fill || fill.data[i * 4 + 3] < 128)) open++;
      return { id: r.id, revealed: Math.round(r.count * full), open: Math.round(open * full), torn: Math.round(r.torn * full), share: r.covers > 0 ? r.count / r.covers : 0 };
    });
  }
}

/** Open pixels are striped in brick and paper; filled ones keep their picture within a line of pale cork. */
function markReveal(mask: Uint8Array, fill: Picture8 | undefined, width: number, height: number, out: Uint8ClampedArray): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!mask[i]) continue;
      const o = i * 4;
      if (fill && fill.data[i * 4 + 3] >= 128) {
        if ((x > 0 && mask[i - 1]) && (x < width - 1 && mask[i + 1]) && (y > 0 && mask[i - width]) && (y < height - 1 && mask[i + width])) continue;
        out[o] = 255; out[o + 1] = 217; out[o + 2] = 160;
        continue;
      }
      const brick = ((x + y) % 10) < 5;
      out[o] = brick ? 154 : 243; out[o + 1] = brick ? 52 : 240; out[o + 2] = brick ? 32 : 234;
    }
  }
}

/** Stretched pixels glow: pale from a fifth wider, brick from twice as wide. */
function markStretch({ factor }: Stretch, out: Uint8ClampedArray): void {
  for (let i = 0; i < factor.length; i++) {
    const f = factor[i];
    if (f < 1.2) continue;
    const t = Math.min(1, (f - 1.2) / 0.8), o = i * 4;
    out[o] += (214 - out[o]) * (0.45 + 0.5 * t); out[o + 1] += ((190 - 128 * t) - out[o + 1]) * (0.45 + 0.5 * t); out[o + 2] += ((60 - 26 * t) - out[o + 2]) * (0.45 + 0.5 * t);
  }
}
