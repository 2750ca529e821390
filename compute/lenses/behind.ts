import equal from 'fast-deep-equal';
import { clipRect, growRect } from '@/core/raster/geometry';
import type { Mask } from '@/core/raster/picture';
import { drawAside } from '../draw/aside';
import { markReveal } from '../draw/reveal';
import { markStretch } from '../draw/stretch';
import type { Layer } from '../layer/layer';
import type { Looking } from '../layer/lookBehind';
import type { HandEdit } from '../look';
import type { Asked, Drawn, Lens } from './lens';

/** How it is looked behind the plates. */
export interface Behind extends Looking {
  /** How far nearer plates than the one in work are pushed aside, px at the source's width. */
  readonly asidePx: number;
  /** Mark what the views uncover. */
  readonly reveal: boolean;
  /** Mark where pixels stretch. */
  readonly stretch: boolean;
}

/** The plate in work with what lies behind nearer ones, which step aside; and what hands draw there. */
export interface BehindAsk {
  readonly lens: 'behind';
  readonly active: string | null;
  readonly behind: Behind;
  /** What hands have drawn that is not in the rasters yet. */
  readonly hands: readonly HandEdit[];
}

/** What the last look was drawn from. */
interface Last {
  readonly version: string;
  readonly active: string | null;
  readonly behind: Behind;
  readonly stamp: number;
  readonly found: unknown;
  readonly lent: unknown;
}

/** Where nothing but what hands draw has changed since the last time, that part alone, unless all of it is asked for. */
async function draw(layer: Layer, { scene, ask }: Asked<BehindAsk>, all: boolean): Promise<Drawn> {
  const { active, behind, hands } = ask;
  const last = layer.lastDrawn as Last | undefined;
  layer.lastDrawn = undefined;
  await layer.prepare(scene);
  const changed = await layer.layout.followHands(hands);
  if (changed.size > 0) layer.movedEyes.forget();
  const touched = changed.get(active);
  const { rasters, stamp } = layer.layout;
  const { behindView, place } = layer;
  const { scale } = place;
  const laid = { scene, rasters, scale, stamp };
  const same =
    last?.version === scene.version &&
    last.active === active &&
    last.stamp === stamp &&
    last.found === behindView.found &&
    last.lent === layer.lent?.found &&
    equal(last.behind, behind);
  const part = !all && same && changed.size === (touched ? 1 : 0);
  const remember = (): void => {
    layer.lastDrawn = {
      version: scene.version,
      active,
      behind,
      stamp,
      found: behindView.found,
      lent: layer.lent?.found,
    } satisfies Last;
  };
  if (part && !touched) {
    remember();
    return { frame: undefined, revealed: 0, part };
  }
  const { width, height } = rasters.picture;
  // A touched rectangle with its neighbours: marks depend on those.
  const rect = (part && touched && clipRect(growRect(touched, 1), width, height)) || layer.whole;
  const data = drawAside(laid, active, behind.asidePx, rect);
  if (behind.reveal) {
    // A window sees no whole frame: what a move uncovers in it, the whole picture lends.
    void behindView.want(laid, layer.lent ? { ...behind, move: null } : behind);
    const revealed = behindView.found.find((r) => r.id === active);
    const mask = revealed && withLent(layer, revealed.mask, active);
    if (mask) markReveal(mask, { fill: layer.layout.fills().get(active), scale: laid.scale }, rect, data);
  }
  if (behind.stretch) markStretch(behindView.stretch(laid, active), width, rect, data);
  remember();
  return { frame: layer.frameOf(rect, data), revealed: 0, part };
}

/** A window's reveal map with what the whole picture's says there, too. */
function withLent({ lent, place }: Layer, counted: Mask, id: string | null): Mask {
  const mask = lent?.found.find((r) => r.id === id)?.mask;
  if (!lent || !mask) return counted;
  const { width, height } = counted;
  const data = Uint8Array.from(counted.data);
  const to = (v: number, from: number): number => Math.floor(((v + 0.5) / place.scale + from) * lent.place.scale);
  for (let y = 0; y < height; y++) {
    const row = Math.min(mask.height - 1, to(y, place.top)) * mask.width;
    for (let x = 0; x < width; x++)
      if (mask.data[row + Math.min(mask.width - 1, to(x, place.left))]) data[y * width + x] = 255;
  }
  return { width, height, data };
}

export const behind: Lens<BehindAsk> = {
  key: 'behind',
  touches: false,
  draw: (layer, asked) => draw(layer, asked, false),
  drawAll: (layer, asked) => draw(layer, asked, true),
  lend: (whole, detail) => {
    detail.lent = { found: whole.behindView.found, place: whole.place };
  },
};
