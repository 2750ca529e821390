import type { Vector } from '@/core/camera/pose';
import type { PlanAxis } from '@/core/scene/plan';

/** The rail's paper, css px. */
export const RAIL_WIDTH = 210;
export const RAIL_HEIGHT = 62;
const EDGE = 18;
/** Css px to the metre, finest first. */
const SCALES = [600, 300, 150, 75, 30, 15, 7.5, 3, 1.5, 0.75, 0.3, 0.15, 0.03, 0.015, 0.003, 0.0003];

/** Where the camera's places lie on the rail: across and forwards, in css px. */
export interface RailPlace {
  readonly axis: PlanAxis;
  readonly perMetre: number;
  /** The place in its middle, m across and forwards. */
  readonly middle: readonly [number, number];
}

/** A place's metres across: to the right from above; downwards from the side, as rows go. */
const acrossOf = ([right, up]: Vector, axis: PlanAxis): number => (axis === 'columns' ? right : -up);

/** The rail on which all places lie, as large as it may be. */
export function railFor(places: readonly Vector[], axis: PlanAxis): RailPlace {
  const a = places.map((p) => acrossOf(p, axis));
  const f = places.map((p) => p[2]);
  const wide = Math.max(...a) - Math.min(...a);
  const deep = Math.max(...f) - Math.min(...f);
  const fits = (k: number): boolean => wide * k <= RAIL_WIDTH - 4 * EDGE && deep * k <= RAIL_HEIGHT - EDGE;
  return {
    axis,
    perMetre: SCALES.find(fits) ?? SCALES[SCALES.length - 1],
    middle: [(Math.max(...a) + Math.min(...a)) / 2, (Math.max(...f) + Math.min(...f)) / 2],
  };
}

/** A place on the rail, css px from its upper left. */
export const onRail = ({ axis, perMetre, middle }: RailPlace, p: Vector): { x: number; y: number } => ({
  x: RAIL_WIDTH / 2 + (acrossOf(p, axis) - middle[0]) * perMetre,
  y: RAIL_HEIGHT / 2 - (p[2] - middle[1]) * perMetre,
});

/** A place moved by so many css px on the rail, to a millimetre or a tenth of a css px. */
export function movedOnRail(
  { axis, perMetre }: RailPlace,
  p: Vector,
  dx: number,
  dy: number,
): [number, number, number] {
  const grain = Math.min(0.001, 0.1 / perMetre);
  const round = (v: number): number => Number((Math.round(v / grain) * grain).toFixed(6));
  const [right, up, forward] = p;
  const across = dx / perMetre;
  return axis === 'columns'
    ? [round(right + across), up, round(forward - dy / perMetre)]
    : [right, round(up - across), round(forward - dy / perMetre)];
}

/** A round length that can be shown beside the rail, m. */
export function barOf({ perMetre }: RailPlace): number {
  const power = 10 ** Math.ceil(Math.log10(14 / perMetre) - 1);
  return [1, 2, 5, 10].map((n) => n * power).find((m) => m * perMetre >= 14)!;
}
