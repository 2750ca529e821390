import { greyPlane } from '../../raster/greyPlane';
import type { StartLook } from './startLook';
import { straightEdges, type StraightEdge } from './straightEdges';

/** Where lines that go away meet. */
export interface VanishingPoint {
  /** Shares of the picture's sides. */
  readonly x: number;
  readonly y: number;
  /** Which share of the length of all slanting edges points there, 0 to 1. */
  readonly agree: number;
}

/** Shorter edges say little, of the longer side. */
const SHORTEST = 1 / 24;
/** So near to level or upright they are taken for it: they meet far outside, radians. */
const SQUARE = (4 * Math.PI) / 180;
/** An edge points to a place within so much, radians. */
const POINTS = (1.5 * Math.PI) / 180;
/** From so many edges, and from such a share of their length, they agree. */
const MANY = 8;
const AGREE = 0.45;
/** The longest edges propose where they meet. */
const PROPOSE = 60;
/** The point lies within the picture, or so far beside it, of its sides. */
const BESIDE = 0.5;

/**
 * Where many slanting edges of a picture agree to meet; undefined where they do not: then nobody should be told a
 * horizon.
 */
export function vanishingPoint(look: StartLook): VanishingPoint | undefined {
  const { width, height } = look;
  const edges = straightEdges(greyPlane(look.picture), look, SHORTEST * Math.max(width, height)).filter(slants);
  if (edges.length < MANY) return undefined;
  const longest = [...edges].sort((a, b) => b.length - a.length).slice(0, PROPOSE);
  let best = { x: 0, y: 0, points: [] as StraightEdge[], votes: 0 };
  for (let a = 0; a < longest.length; a++)
    for (let b = a + 1; b < longest.length; b++) {
      const at = meeting(longest[a], longest[b]);
      if (!at || outside(at.x / width) || outside(at.y / height)) continue;
      const points = edges.filter((edge) => pointsTo(edge, at));
      const votes = lengthOf(points);
      if (votes > best.votes) best = { ...at, points, votes };
    }
  const agree = best.votes / lengthOf(edges);
  if (best.points.length < MANY || agree < AGREE || !fromBothSides(best.points)) return undefined;
  const at = nearestTo(best.points);
  return { x: at.x / width, y: at.y / height, agree };
}

const lengthOf = (edges: readonly StraightEdge[]): number => edges.reduce((sum, { length }) => sum + length, 0);
const outside = (share: number): boolean => share < -BESIDE || share > 1 + BESIDE;

function slants({ x1, y1, x2, y2 }: StraightEdge): boolean {
  const turn = Math.abs(Math.atan2(y2 - y1, x2 - x1)) % (Math.PI / 2);
  return Math.min(turn, Math.PI / 2 - turn) > SQUARE;
}

/** Where two lines cross; undefined for lines that nearly run beside each other. */
function meeting(a: StraightEdge, b: StraightEdge): { x: number; y: number } | undefined {
  const [ax, ay, bx, by] = [a.x2 - a.x1, a.y2 - a.y1, b.x2 - b.x1, b.y2 - b.y1];
  const cross = ax * by - ay * bx;
  if (Math.abs(cross) < 0.1 * a.length * b.length) return undefined;
  const t = ((b.x1 - a.x1) * by - (b.y1 - a.y1) * bx) / cross;
  return { x: a.x1 + t * ax, y: a.y1 + t * ay };
}

/** By how an edge lies from its middle, as seen from there. */
function pointsTo({ x1, y1, x2, y2, length }: StraightEdge, at: { x: number; y: number }): boolean {
  const [dx, dy] = [at.x - (x1 + x2) / 2, at.y - (y1 + y2) / 2];
  const far = Math.hypot(dx, dy);
  // What goes through the place itself says nothing of it but that.
  if (far < length / 2) return false;
  return Math.abs((x2 - x1) * dy - (y2 - y1) * dx) / (length * far) < POINTS;
}

/** Edges that all run the same way meet nowhere for certain: some must rise and some must fall. */
function fromBothSides(edges: readonly StraightEdge[]): boolean {
  const rising = edges.filter(({ x1, y1, x2, y2 }) => (x2 - x1) * (y2 - y1) > 0).length;
  return Math.min(rising, edges.length - rising) >= 2;
}

/** The place that lies nearest to all lines, in the sense of least squares. */
function nearestTo(edges: readonly StraightEdge[]): { x: number; y: number } {
  let [xx, xy, yy, rx, ry] = [0, 0, 0, 0, 0];
  for (const { x1, y1, x2, y2, length } of edges) {
    const [nx, ny] = [-(y2 - y1) / length, (x2 - x1) / length];
    const d = nx * x1 + ny * y1;
    xx += length * nx * nx;
    xy += length * nx * ny;
    yy += length * ny * ny;
    rx += length * nx * d;
    ry += length * ny * d;
  }
  const det = xx * yy - xy * xy;
  return { x: (rx * yy - ry * xy) / det, y: (ry * xx - rx * xy) / det };
}
