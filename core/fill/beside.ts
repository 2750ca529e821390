import type { Size } from '../kind';
import type { Point } from '../raster/geometry';
import type { Mask } from '../raster/picture';
import { drawOutline } from '../matte/outline';
import { brushAlong } from './brushAlong';

/** What lies within so many px of a stroke, px of the source: 255. @param points at least one */
export function besideStroke({ width, height }: Size, points: readonly Point[], reach: number): Mask {
  const whole = { left: 0, top: 0, right: width, bottom: height };
  return { width, height, data: brushAlong(points, { radius: reach, hardness: 1, strength: 1 }, whole) };
}

/** A turn so wide at most joins the far ends of a stroke, radians. */
const TURN = Math.PI / 8;

/**
 * The two sides of a stroke that goes on straight beyond its ends, 255 each: at the left hand of its way first. Where it crosses
 * itself they change. @param points px of the source; the ends differ
 */
export function sidesOfStroke({ width, height }: Size, points: readonly Point[]): readonly [Mask, Mask] {
  const middle = { x: width / 2, y: height / 2 };
  // As far as that everything lies between the two ends of the stroke that goes on.
  const far = 4 * (width + height) + Math.max(...points.map((p) => Math.hypot(p.x - middle.x, p.y - middle.y)));
  const last = points.length - 1;
  const end = (at: Point, before: Point): Point => {
    const length = Math.hypot(at.x - before.x, at.y - before.y);
    return { x: at.x + ((at.x - before.x) / length) * far, y: at.y + ((at.y - before.y) / length) * far };
  };
  const from = end(
    points[0],
    points.find((p) => differ(p, points[0]))!,
  );
  const to = end(
    points[last],
    points.findLast((p) => differ(p, points[last]))!,
  );
  // From its far end around the left hand back to its far beginning.
  const angle = ({ x, y }: Point): number => Math.atan2(y - middle.y, x - middle.x);
  const begins = angle(to);
  let turn = angle(from) - begins;
  while (turn >= 0) turn -= 2 * Math.PI;
  const steps = Math.ceil(-turn / TURN);
  const around = Array.from({ length: steps - 1 }, (_, n) => {
    const a = begins + (turn * (n + 1)) / steps;
    return { x: middle.x + 2 * far * Math.cos(a), y: middle.y + 2 * far * Math.sin(a) };
  });
  const cover = drawOutline(width, height, [from, ...points, to, ...around]);
  return [
    { width, height, data: cover.data.map((v) => (v >= 128 ? 255 : 0)) },
    { width, height, data: cover.data.map((v) => (v >= 128 ? 0 : 255)) },
  ];
}

const differ = (a: Point, b: Point): boolean => a.x !== b.x || a.y !== b.y;
