import type { Rect } from '../../raster/geometry';
import type { FrameFacts, Side } from './frameFacts';
import { SIDES } from './frameFacts';

/** What the guard knows of one frame: both eyes and the camera together. */
export interface GuardedFrame {
  readonly frame: number;
  readonly facts: FrameFacts;
  readonly nearPx: number;
  readonly farPx: number;
  /** How fast the nearest passes to the next frame, px of the source. */
  readonly speed: number;
}

export const FINDINGS = ['dry', 'open', 'torn', 'stretched', 'comfort', 'judder', 'jump'] as const;
export type FindingKind = (typeof FINDINGS)[number];

/** Something to see, over a run of frames. */
export interface Finding {
  readonly kind: FindingKind;
  /** From and to which frame. */
  readonly first: number;
  readonly last: number;
  /** Where it is worst, and how bad: px of the source. */
  readonly worst: number;
  readonly px: number;
  /** Of a dry border. */
  readonly side?: Side;
  /** Of what is open or stretched: the plate's place among the drawn ones, 0 the back plate. */
  readonly plate?: number;
  /** Where it lies in what is seen at the worst frame, px of the source. */
  readonly at?: Rect;
}

/** What is still let pass. */
export interface Limits {
  /** The source's width, px. */
  readonly width: number;
  readonly comfort: { readonly nearPx: number; readonly farPx: number };
  /** Faster than this, px a frame, it judders. */
  readonly judder: number;
}

/** Less of a dry border than this is lost in the outermost pixels. */
const DRY_PX = 0.75;
/** So many open px are a speck. */
const OPEN_PX = 12;
/** A gap narrower than this share of the width hardly shows how it was drawn. */
const TORN_SHARE = 1 / 100;
/** Something that is not torn but drawn out longer than this share of the width is seen as a smear. */
const STRETCHED_SHARE = 1 / 400;
/** A speed that changes by more than this share of the fastest from one frame to the next jumps, and by so many px at least. */
const JUMP_SHARE = 0.25;
const JUMP_PX = 0.75;

/** What is to be seen in a move, in the order of time. */
export function findings(frames: readonly GuardedFrame[], limits: Limits): Finding[] {
  const fastest = Math.max(...frames.map(({ speed }) => speed), 0);
  const bad = (px: number, limit: number): number => (px > limit ? px : 0);
  const runs: Finding[] = [
    ...SIDES.flatMap((side) =>
      runsOf(frames, 'dry', ({ facts }) => bad(facts.dry[side], DRY_PX)).map((f) => ({ ...f, side })),
    ),
    ...platesOf(frames).flatMap((plate) =>
      runsOf(frames, 'open', ({ facts }) => bad(facts.open.get(plate)?.px ?? 0, OPEN_PX)).map((f) => ({
        ...f,
        plate,
        ...placed(factsAt(frames, f).open.get(plate)?.at),
      })),
    ),
    ...runsOf(frames, 'torn', ({ facts }) => bad(facts.torn.px, limits.width * TORN_SHARE)).map((f) => ({
      ...f,
      ...placed(factsAt(frames, f).torn.at),
    })),
    ...runsOf(frames, 'stretched', ({ facts }) => bad(facts.stretched?.px ?? 0, STRETCHED_SHARE * limits.width)).map(
      (f) => {
        const stretched = factsAt(frames, f).stretched!;
        return { ...f, plate: stretched.plate, ...placed(stretched.at) };
      },
    ),
    ...runsOf(frames, 'comfort', ({ nearPx, farPx }) =>
      bad(Math.max(limits.comfort.nearPx - nearPx, farPx - limits.comfort.farPx), 0.05),
    ),
    ...runsOf(frames, 'judder', ({ speed }) => bad(speed, limits.judder)),
    // The last frame goes nowhere.
    ...runsOf(frames.slice(0, -2), 'jump', (frame, n) =>
      bad(Math.abs(frames[n + 1].speed - frame.speed), Math.max(JUMP_PX, JUMP_SHARE * fastest)),
    ),
  ];
  return runs.sort((a, b) => a.first - b.first);
}

const factsAt = (frames: readonly GuardedFrame[], { worst }: Finding): FrameFacts =>
  frames.find(({ frame }) => frame === worst)!.facts;
const placed = (at: Rect | undefined): { at?: Rect } => (at ? { at } : {});

const platesOf = (frames: readonly GuardedFrame[]): number[] => [
  ...new Set(frames.flatMap(({ facts }) => [...facts.open.keys()])),
];

/** Runs of neighbouring frames for which something is more than nothing. */
function runsOf(
  frames: readonly GuardedFrame[],
  kind: FindingKind,
  howBad: (frame: GuardedFrame, n: number) => number,
): Finding[] {
  const found: Finding[] = [];
  let open: { first: number; last: number; worst: number; px: number } | undefined;
  frames.forEach((guarded, n) => {
    const px = howBad(guarded, n);
    const { frame } = guarded;
    if (px <= 0) {
      open = undefined;
      return;
    }
    if (!open) {
      open = { first: frame, last: frame, worst: frame, px };
      found.push({ kind, ...open });
    }
    open.last = frame;
    if (px > open.px) Object.assign(open, { px, worst: frame });
    found[found.length - 1] = { kind, ...open };
  });
  return found;
}

/** The smallest zoom that hides every dry border; 1 where there is none. @param size of the source */
export function overscanFor(
  found: readonly Finding[],
  size: { readonly width: number; readonly height: number },
): number {
  let most = 1;
  for (const { kind, side, px } of found) {
    if (kind !== 'dry') continue;
    const length = side === 'left' || side === 'right' ? size.width : size.height;
    most = Math.max(most, 1 / Math.max(0.2, 1 - (2 * (px + 1)) / length));
  }
  return most;
}
