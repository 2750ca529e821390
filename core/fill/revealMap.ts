import type { Rect } from '../raster/geometry';
import type { ShotRasters } from '../shot/rasters';
import { isDeep, type Mask, type Picture, type Premultiplied } from '../raster/picture';
import { drawnOf, type SceneFrame, type Span } from '../scene/sceneOf';
import { sourceEyePosition, spanBudget } from '../stereo/parallax';

/** What the views uncover of one plate (id null: the back plate). */
export interface Revealed {
  readonly id: string | null;
  /** 255 where a pixel that nearer plates hide in the source is seen by some view. */
  readonly mask: Mask;
  readonly count: number;
  /** Most pixels that one view shows torn open inside the plate itself: they belong to its farther side. */
  readonly torn: number;
  /** Pixels of the plate, hidden ones included. */
  readonly covers: number;
}

/** One surface that is looked at: a plate or the back plate. */
interface Surface {
  readonly id: string | null;
  readonly top: number;
  readonly rows: number;
  /** Coverage a pixel; undefined where it covers everything. */
  readonly alpha: Uint8Array | undefined;
  /** Where each row's coverage begins and ends. */
  readonly spans: Int32Array;
  readonly depth: Uint16Array;
  /** What nearer plates hide of it in the source; undefined where that is nothing. */
  readonly hidden: Uint8Array | undefined;
  readonly nearPx: number;
  readonly farPx: number;
  readonly tear: number;
}

/**
 * Exactly which hidden pixels the given views uncover: every plate, with what it has behind nearer ones, is seen from
 * each eye; what
 * of its hidden part is not covered by a nearer plate there is revealed.
 *
 * Source: docs/computations.md, Reveal; forward mapping as in view synthesis (painter's order, joined unless the
 * parallax jumps by more
 * than the tear limit).
 * @param eyes positions, -1/2 to +1/2
 * @param options scale: raster px per source px @default 1; marginPx: the map is grown by so much, raster px @default 0
 */
export function revealMap(
  scene: SceneFrame,
  rasters: ShotRasters<Premultiplied>,
  eyes: readonly number[],
  { scale = 1, marginPx = 0 }: { readonly scale?: number; readonly marginPx?: number } = {},
): Revealed[] {
  const reveal = new Reveal(scene, rasters, scale);
  const steps = reveal.see(eyes);
  while (!steps.next().done);
  return reveal.found(marginPx);
}

/** Rows of a view between two steps. */
const STEP_ROWS = 256;

/** A reveal map made in steps, so that other work goes on between two, progress is told, and it can be given up. */
export class Reveal {
  private readonly surfaces: readonly Surface[];
  private readonly marks: readonly (Uint8Array | undefined)[];
  /** Most torn pixels of one view, by surface. */
  private readonly torn: number[];
  private readonly width: number;
  private readonly height: number;

  /** @param scale raster px per source px */
  constructor(
    private readonly scene: SceneFrame,
    rasters: ShotRasters<Premultiplied>,
    scale: number,
  ) {
    const { width, height } = rasters.picture;
    this.width = width;
    this.height = height;
    this.surfaces = surfacesOf(scene, rasters, scale);
    this.marks = this.surfaces.map((s) => (s.hidden ? new Uint8Array(width * height) : undefined));
    this.torn = this.surfaces.map(() => 0);
  }

  /** Adds what views uncover; yields the share that is done. @param eyes positions, -1/2 to +1/2 */
  *see(eyes: readonly number[]): Generator<number, void> {
    const { height, torn } = this;
    for (let n = 0; n < eyes.length; n++) {
      const tornHere = torn.map(() => 0);
      for (let top = 0; top < height; top += STEP_ROWS) {
        this.seeRows(eyes[n], top, Math.min(height, top + STEP_ROWS), tornHere);
        yield (n + Math.min(height, top + STEP_ROWS) / height) / eyes.length;
      }
      tornHere.forEach((t, k) => {
        torn[k] = Math.max(torn[k], t);
      });
    }
  }

  /** Adds what somebody has seen of a plate: what of a rectangle is hidden there. @param rect px of the whole raster */
  mark(id: string | null, { left, top, right, bottom }: Rect): void {
    const { width } = this;
    const n = this.surfaces.findIndex((s) => s.id === id);
    const mark = this.marks[n];
    if (!mark) return;
    const { hidden, top: first, rows } = this.surfaces[n];
    for (let y = Math.max(top, first); y < Math.min(bottom, first + rows); y++)
      for (let x = Math.max(0, left); x < Math.min(width, right); x++)
        if (hidden![(y - first) * width + x] !== 0) mark[y * width + x] = 255;
  }

  private seeRows(eye: number, top: number, bottom: number, tornHere: number[]): void {
    const { width, scene, surfaces, marks } = this;
    const factor = (scene.swapEyes ? -eye : eye) - sourceEyePosition(scene.sourceEye);
    const columns: Columns = { seen: new Int32Array(width), lands: new Int32Array(width) };
    const { seen, lands } = columns;
    const cover = new Uint8Array(width);
    for (let y = top; y < bottom; y++) {
      cover.fill(0);
      surfaces.forEach((s, n) => {
        const row = y - s.top;
        if (row < 0 || row >= s.rows) return;
        mapRow(s, row, factor, columns);
        const mark = marks[n];
        // Where the surface is drawn together several of its pixels land on one column: all of them are seen there.
        if (mark) {
          for (let x = 0; x < width; x++) {
            const t = lands[x];
            if (t >= 0 && t < width && s.hidden![row * width + x] !== 0 && cover[t] === 0 && Math.abs(seen[t] - x) <= 1)
              mark[y * width + x] = 255;
          }
        }
        for (let x = 0; x < width; x++) {
          const from = seen[x];
          if (from < 0) {
            if (from === GAP && cover[x] === 0) {
              tornHere[n]++;
              cover[x] = 1;
            }
            continue;
          }
          const i = row * width + from;
          if (mark && cover[x] === 0 && s.hidden![i] !== 0) mark[y * width + from] = 255;
          if (s.alpha === undefined || s.alpha[i] >= 128) cover[x] = 1;
        }
      });
    }
  }

  /** What the views so far uncover of every plate, nearest first. @param marginPx the map is grown by so much, raster px */
  found(marginPx: number): Revealed[] {
    const { width, height } = this;
    return this.surfaces.map((s, n): Revealed => {
      const marked = this.marks[n];
      let mask: Mask = { width, height, data: marked ?? new Uint8Array(width * height) };
      if (marked && marginPx > 0) mask = grown(mask, Math.round(marginPx), s, width);
      let count = 0;
      let covers = 0;
      for (const v of mask.data) if (v) count++;
      for (let i = 0; i < s.rows * width; i++) if (s.alpha === undefined || s.alpha[i] > 0) covers++;
      return { id: s.id, mask, count, torn: this.torn[n], covers };
    });
  }
}

/** Nearest first: what that covers in a view, those behind it cannot show there. */
function surfacesOf(scene: SceneFrame, rasters: ShotRasters<Premultiplied>, scale: number): Surface[] {
  const most = isDeep(rasters.picture) ? 65535 : 255;
  const budget = (span: Span): { nearPx: number; farPx: number } => {
    const { nearPx, farPx } = spanBudget(scene.budget, span);
    return { nearPx: nearPx * scale, farPx: farPx * scale };
  };
  const limit = (px: number): number => Math.max(px * scale, Math.min(px, 1));
  const plates = drawnOf(scene)
    .reverse()
    .flatMap((p): Surface[] => {
      const raster = rasters.plates.find((r) => r.id === p.id);
      return raster
        ? [
            {
              id: p.id,
              top: raster.top,
              rows: raster.depth.height,
              ...coverOf(raster.picture, most),
              depth: raster.depth.data,
              hidden: raster.hidden?.data,
              tear: limit(p.tearPx),
              ...budget(p),
            },
          ]
        : [];
    });
  return [
    ...plates,
    {
      id: null,
      top: 0,
      rows: rasters.picture.height,
      alpha: undefined,
      spans: new Int32Array(0),
      depth: rasters.depth.data,
      hidden: rasters.hole?.data,
      tear: limit(scene.back.tearPx),
      ...budget(scene.back),
    },
  ];
}

/** A plate's coverage as 8 bits, and where in each row it begins and ends. */
function coverOf({ width, height, data }: Picture, most: number): { alpha: Uint8Array; spans: Int32Array } {
  const alpha = new Uint8Array(width * height);
  const spans = new Int32Array(height * 2);
  const half = most / 255;
  for (let y = 0, i = 0; y < height; y++) {
    let first = -1;
    let end = 0;
    for (let x = 0; x < width; x++, i++) {
      const a = data[i * 4 + 3];
      if (a === 0) continue;
      alpha[i] = Math.max(1, a / half);
      if (first < 0) first = x;
      end = x + 1;
    }
    spans[y * 2] = Math.max(0, first);
    spans[y * 2 + 1] = end;
  }
  return { alpha, spans };
}

/** What each target column of a row shows, and where each source column lands. */
interface Columns {
  readonly seen: Int32Array;
  readonly lands: Int32Array;
}

const NOTHING = -1;
const GAP = -2;

/**
 * Which source column each target column of a row shows, and on which column each source column lands; GAP where the
 * surface is torn open, NOTHING beside it.
 */
function mapRow(s: Surface, row: number, factor: number, { seen, lands }: Columns): void {
  const width = seen.length;
  seen.fill(NOTHING);
  lands.fill(NOTHING);
  const base = factor * s.farPx;
  const slope = (factor * (s.nearPx - s.farPx)) / 65535;
  const start = row * width;
  const right = factor >= 0;
  // Walked so that the nearest is drawn last: left to right for an eye to the right of the source.
  const walk = right ? 1 : -1;
  let last = Number.NaN;
  let lastX = -1;
  const { alpha } = s;
  const first = alpha ? s.spans[row * 2] : 0;
  const end = alpha ? s.spans[row * 2 + 1] : width;
  for (let k = first; k < end; k++) {
    const x = right ? k : first + end - 1 - k;
    const i = start + x;
    if (alpha !== undefined && alpha[i] === 0) {
      last = Number.NaN;
      continue;
    }
    const at = x + base + slope * s.depth[i];
    const target = Math.round(at);
    lands[x] = target;
    if (!Number.isNaN(last)) {
      // Joined to the one before, the columns between belong to both; torn, they stay open unless something else shows there.
      const joined = Math.abs(at - last - walk) <= s.tear * Math.abs(factor) + 1e-9;
      const from = Math.round(last);
      if (joined ? Math.abs(target - from) > 1 : (target - from) * walk > 1) {
        const step = target >= from ? 1 : -1;
        for (let t = from + step; t !== target; t += step) {
          if (t < 0 || t >= width) continue;
          if (joined) seen[t] = Math.abs(t - from) * 2 <= Math.abs(target - from) ? lastX : x;
          else if (seen[t] === NOTHING) seen[t] = GAP;
        }
      }
    }
    if (target >= 0 && target < width) seen[target] = x;
    last = at;
    lastX = x;
  }
}

/** A map grown by a margin, within what is hidden. */
function grown({ width, height, data }: Mask, margin: number, s: Surface, w: number): Mask {
  const across = new Uint8Array(data.length);
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y++) {
    let until = -1;
    for (let x = 0; x < width; x++) {
      if (data[y * width + x]) until = x + margin;
      if (x <= until) across[y * width + x] = 255;
    }
    until = width;
    for (let x = width - 1; x >= 0; x--) {
      if (data[y * width + x]) until = x - margin;
      if (x >= until) across[y * width + x] = 255;
    }
  }
  for (let x = 0; x < width; x++) {
    let until = -1;
    for (let y = 0; y < height; y++) {
      if (across[y * width + x]) until = y + margin;
      if (y <= until) out[y * width + x] = 255;
    }
    until = height;
    for (let y = height - 1; y >= 0; y--) {
      if (across[y * width + x]) until = y - margin;
      if (y >= until) out[y * width + x] = 255;
    }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const row = y - s.top;
      if (row < 0 || row >= s.rows || !s.hidden![row * w + x]) out[y * width + x] = 0;
    }
  return { width, height, data: out };
}
