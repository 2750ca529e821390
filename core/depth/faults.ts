import type { DepthMap, Picture8 } from '../raster/picture';
import { isSpeck, SPECK_REACH } from './specks';
import { terraceStep } from './smoothTerraces';

/** What a map may suffer from. */
export const FAULTS = ['halo', 'astray', 'specks', 'terraces', 'empty'] as const;
export type FaultKind = (typeof FAULTS)[number];

/** A fault of a map: how much there is of it, and where it is worst. */
export interface Fault {
  readonly kind: FaultKind;
  /**
   * halo: its width, px of the map; astray: share of depth edges; specks: how many; terraces: a step, of depth;
   * empty: share of depth.
   */
  readonly much: number;
  /** Where it is worst, px of the map; undefined where it is everywhere. */
  readonly at: { readonly x: number; readonly y: number } | undefined;
  /** empty: what is used, from the farthest to the nearest. */
  readonly used?: readonly [far: number, near: number];
}

/** A step of depth from px to px that is an edge. */
const STEP = 0.04;
/** A difference of colour that is an edge of the picture, 8-bit steps over three channels. */
const EDGE = 26;
/** A depth edge belongs to an edge of the picture within so many px; up to so many it lies beside it. */
const ON = 2;
const BESIDE = 9;
/** Fewer edges than this share are no fault; of depth that nothing lies in, too. */
const FEW = 0.08;
const EMPTY = 0.12;
/** What less than this share of the pixels holds counts as empty. */
const RARE = 2e-4;

/** Looks a map over for what shows in glasses. @param picture of the map's size */
export function faultsOf(map: DepthMap, picture: Picture8): Fault[] {
  const edges = edgesOf(map, picture);
  const found = [edges.halo, edges.astray, specksOf(map), terracesOf(map), emptyOf(map)];
  return found.filter((fault) => fault !== undefined);
}

/** Depth edges that have no edge of the picture where they lie: one beside them, or none. */
function edgesOf(
  { width, height, data }: DepthMap,
  { data: p }: Picture8,
): Record<'halo' | 'astray', Fault | undefined> {
  const colourStep = (i: number, j: number): number =>
    Math.abs(p[4 * i] - p[4 * j]) + Math.abs(p[4 * i + 1] - p[4 * j + 1]) + Math.abs(p[4 * i + 2] - p[4 * j + 2]);
  const blocks = { halo: new Clusters(width, height), astray: new Clusters(width, height) };
  let [all, beside, wide, none] = [0, 0, 0, 0];
  for (let y = BESIDE; y < height - BESIDE; y++)
    for (let x = BESIDE; x < width - BESIDE; x++) {
      const i = y * width + x;
      for (const stride of [1, width]) {
        if (Math.abs(data[i + stride] - data[i]) < STEP * 65535) continue;
        all++;
        let nearest = Infinity;
        for (let n = 0; n <= BESIDE && nearest === Infinity; n++)
          for (const k of n === 0 ? [i] : [i - n * stride, i + n * stride])
            if (colourStep(k, k + stride) > EDGE) nearest = n;
        if (nearest <= ON) continue;
        if (nearest === Infinity) {
          none++;
          blocks.astray.add(x, y);
        } else {
          beside++;
          wide += nearest;
          blocks.halo.add(x, y);
        }
      }
    }
  const share = (n: number): number => (all > 0 ? n / all : 0);
  return {
    halo: share(beside) > FEW ? { kind: 'halo', much: wide / beside, at: blocks.halo.fullest() } : undefined,
    astray: share(none) > FEW ? { kind: 'astray', much: share(none), at: blocks.astray.fullest() } : undefined,
  };
}

function specksOf(map: DepthMap): Fault | undefined {
  const { width, height } = map;
  const clusters = new Clusters(width, height);
  let many = 0;
  for (let y = SPECK_REACH; y < height - SPECK_REACH; y++)
    for (let x = SPECK_REACH; x < width - SPECK_REACH; x++)
      if (isSpeck(map, x, y)) {
        many++;
        clusters.add(x, y);
      }
  return many > 0 ? { kind: 'specks', much: many, at: clusters.fullest() } : undefined;
}

function terracesOf(map: DepthMap): Fault | undefined {
  const step = terraceStep(map);
  return step === undefined ? undefined : { kind: 'terraces', much: step / 65535, at: undefined };
}

/** The widest stretch of depth, its ends among them, in which nearly nothing lies. */
function emptyOf({ data }: DepthMap): Fault | undefined {
  const bins = new Uint32Array(256);
  for (const v of data) bins[v >> 8]++;
  let [run, widest] = [0, 0];
  const used: number[] = [];
  bins.forEach((many, n) => {
    const rare = many < RARE * data.length;
    run = rare ? run + 1 : 0;
    widest = Math.max(widest, run);
    if (!rare) used.push(n);
  });
  // A map of one depth is flat, not empty.
  if (widest / 256 <= EMPTY || used.length < 4) return undefined;
  return { kind: 'empty', much: widest / 256, at: undefined, used: [used[0] / 255, used[used.length - 1] / 255] };
}

/** Where most of something lies: counted in squares. */
class Clusters {
  private static readonly SIDE = 24;
  private readonly across: number;
  private readonly counts: Uint32Array;
  private readonly sums: Float64Array;

  constructor(width: number, height: number) {
    this.across = Math.ceil(width / Clusters.SIDE);
    this.counts = new Uint32Array(this.across * Math.ceil(height / Clusters.SIDE));
    this.sums = new Float64Array(this.counts.length * 2);
  }

  add(x: number, y: number): void {
    const n = Math.floor(y / Clusters.SIDE) * this.across + Math.floor(x / Clusters.SIDE);
    this.counts[n]++;
    this.sums[2 * n] += x;
    this.sums[2 * n + 1] += y;
  }

  /** The middle of what lies in the fullest square. */
  fullest(): { x: number; y: number } {
    const n = this.counts.reduce((best, v, k) => (v > this.counts[best] ? k : best), 0);
    const many = Math.max(1, this.counts[n]);
    return { x: Math.round(this.sums[2 * n] / many), y: Math.round(this.sums[2 * n + 1] / many) };
  }
}
