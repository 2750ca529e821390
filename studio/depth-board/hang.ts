import type { DocumentPatch, ShotDocument } from '@/core/shot/document';

/** What hangs on the board: the back plate (id null) or a plate. */
export interface Hung {
  readonly id: string | null;
  readonly name: string;
  readonly near: number;
  readonly far: number;
  readonly hidden: boolean;
  readonly locked: boolean;
  readonly group: string | null;
  /** False while it is only planned. */
  readonly cut: boolean;
}

/** Everything that hangs on the board, far to near. */
export function hungPlates({ depth, plates }: Pick<ShotDocument, 'depth' | 'plates'>): Hung[] {
  const back: Hung = {
    id: null,
    name: 'Back plate',
    near: depth.near,
    far: depth.far,
    hidden: false,
    locked: false,
    group: null,
    cut: true,
  };
  const others = plates.map((p): Hung => ({
    id: p.id,
    name: p.name,
    near: p.depth.near,
    far: p.depth.far,
    hidden: p.hidden,
    locked: p.locked,
    group: p.group,
    cut: p.matte !== null,
  }));
  return [back, ...others].sort((a, b) => a.near + a.far - b.near - b.far);
}

export const GAP = 10;

/** So many cards have room for their pictures on the shortest ruler. */
export const PICTURED = 4;

/** Height of a card that shows its name alone, and the gap between such, css px. */
export const LINE = 24;
const LINE_GAP = 4;
/** Cards may reach so far below the ruler, css px. */
const BELOW = 12;

/**
 * Height of a card, css px: the one in work is tall, planned ones are a line, and where there are many the others lose
 * their pictures.
 */
export function cardHeight(plate: Hung, active: boolean, count: number): number {
  if (!plate.cut) return active ? 44 : 34;
  if (active) return plate.id === null ? 128 : 146;
  return count > PICTURED ? 46 : 110;
}

/** Where each card hangs, css px; cards that do not fit on the ruler are not there until the board is scrolled to them. */
export interface Hanging {
  readonly at: readonly number[];
  readonly heights: readonly number[];
  /** Only names are shown, but of the card in work. */
  readonly lines: boolean;
  /** How far the board can be scrolled; 0 where all fit. */
  readonly scrolls: number;
}

/**
 * Hangs the cards: each as near as possible to the middle of its span, pushed apart where they would touch, and back
 * upwards where the
 * last would leave the ruler. Where they would not fit that way those not in work show their names alone; and where
 * even so they do not,
 * they hang one below the other and the board scrolls.
 * @param ruler where the ruler begins, and how long it is
 * @param scrolled how far the board is scrolled
 */
export function hangCards(
  plates: readonly Hung[],
  active: string | null,
  { top, length }: { readonly top: number; readonly length: number },
  scrolled = 0,
): Hanging {
  const natural = plates.map((p) => cardHeight(p, p.id === active, plates.length));
  const room = length + BELOW;
  const needs = (heights: readonly number[], gap: number): number => heights.reduce((sum, h) => sum + h + gap, -gap);
  const lines = needs(natural, GAP) > room;
  const heights = lines ? natural.map((h, n) => (plates[n].id === active ? h : LINE)) : natural;
  const gap = lines ? LINE_GAP : GAP;
  const scrolls = Math.max(0, needs(heights, gap) - room);
  if (scrolls > 0) {
    let next = top - Math.min(scrolls, Math.max(0, scrolled));
    const at = heights.map((height) => {
      const here = next;
      next += height + gap;
      return here;
    });
    return { at, heights, lines, scrolls };
  }
  const at = plates.map((p, n) => {
    const middle = top + ((p.near + p.far) / 2) * length - heights[n] / 2;
    return Math.min(top + length - heights[n], Math.max(top, middle));
  });
  for (let n = 1; n < at.length; n++) at[n] = Math.max(at[n], at[n - 1] + heights[n - 1] + gap);
  for (let n = at.length - 1, below = top + room; n >= 0; n--) {
    at[n] = Math.min(at[n], below - heights[n]);
    below = at[n] - gap;
  }
  return { at, heights, lines, scrolls };
}

/**
 * Where the span of each plate stands across the cork, css px from the board's left: the one in work in the middle,
 * others in lanes.
 */
export function spanLanes(plates: readonly Hung[], active: string | null): number[] {
  const taken: { x: number; near: number; far: number }[] = [];
  return plates.map((p) => {
    if (p.id === active) return 102;
    if (p.id === null) return 126;
    let x = 114;
    while (x > 84 && taken.some((t) => t.x === x && p.far < t.near && p.near > t.far)) x -= 10;
    taken.push({ x, near: p.near, far: p.far });
    return x === 104 ? 94 : x;
  });
}

/** The patch that gives a plate another span. */
export function spanPatch(id: string | null, near: number, far: number): DocumentPatch {
  return id === null ? { span: { near, far } } : { plates: [{ id, near, far }] };
}

type Placed = Pick<ShotDocument, 'depth' | 'plates'>;

/** The plates that go with one: itself, and those of its group. */
export function together({ plates }: Pick<ShotDocument, 'plates'>, id: string): ShotDocument['plates'] {
  const held = plates.find((p) => p.id === id);
  return plates.filter((p) => p.id === id || (held !== undefined && held.group !== null && p.group === held.group));
}

/**
 * The patch that moves a plate, and its group with it, by `by` on the ruler; locked and planned ones stay. None may
 * leave the ruler.
 */
export function movePatch(from: Placed, id: string | null, by: number): DocumentPatch {
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  const moved = id === null ? [{ depth: from.depth }] : together(from, id).filter((p) => !p.locked && p.matte !== null);
  const most = Math.min(...moved.map((p) => 1 - p.depth.near));
  const least = Math.max(...moved.map((p) => -p.depth.far));
  const d = round(Math.min(most, Math.max(least, by)));
  if (id === null) return spanPatch(null, round(from.depth.near + d), round(from.depth.far + d));
  return {
    plates: (moved as ShotDocument['plates']).map((p) => ({
      id: p.id,
      near: round(p.depth.near + d),
      far: round(p.depth.far + d),
    })),
  };
}
