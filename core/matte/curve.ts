import type { Point } from '../raster/geometry';

/**
 * A corner of a Bezier outline with its two handles: cubic curves run from each to the next, and from the last to the
 * first. All px.
 */
export interface CurveNode {
  readonly x: number;
  readonly y: number;
  readonly inX: number;
  readonly inY: number;
  readonly outX: number;
  readonly outY: number;
}

/** No chord leaves its curve by more than this, px. */
const TOLERANCE = 0.1;

/**
 * A closed Bezier outline as corners, close enough that no chord leaves the curve by more than a tenth of a px at `scale`.
 *
 * Source: the bound on a chord's error by second differences (Wang 1984; Sederberg, "Computer aided geometric design", ch. 10):
 * n = sqrt(6 M / (8 t)) with M the largest second difference of the control points.
 * @param scale px of the target per px of the nodes
 */
export function flattenCurve(nodes: readonly CurveNode[], scale = 1): Point[] {
  const out: Point[] = [];
  nodes.forEach((a, n) => {
    const b = nodes[(n + 1) % nodes.length];
    const second = Math.max(
      Math.hypot(a.x - 2 * a.outX + b.inX, a.y - 2 * a.outY + b.inY),
      Math.hypot(a.outX - 2 * b.inX + b.x, a.outY - 2 * b.inY + b.y),
    );
    const steps = Math.min(400, Math.max(1, Math.ceil(Math.sqrt((0.75 * second * scale) / TOLERANCE))));
    for (let k = 0; k < steps; k++) out.push(curveAt(a, b, k / steps));
  });
  return out;
}

/** The point at t (0 to 1) of the curve from one node to the next. */
export function curveAt(a: CurveNode, b: CurveNode, t: number): Point {
  const s = 1 - t;
  const w0 = s * s * s;
  const w1 = 3 * s * s * t;
  const w2 = 3 * s * t * t;
  const w3 = t * t * t;
  return { x: w0 * a.x + w1 * a.outX + w2 * b.inX + w3 * b.x, y: w0 * a.y + w1 * a.outY + w2 * b.inY + w3 * b.y };
}

/** Adds a node in the curve from node `n` on, at t, without changing its shape (de Casteljau). */
export function splitCurve(nodes: readonly CurveNode[], n: number, t: number): CurveNode[] {
  const a = nodes[n];
  const b = nodes[(n + 1) % nodes.length];
  const mix = (p: Point, q: Point): Point => ({ x: p.x + (q.x - p.x) * t, y: p.y + (q.y - p.y) * t });
  const p1 = mix(a, { x: a.outX, y: a.outY });
  const m = mix({ x: a.outX, y: a.outY }, { x: b.inX, y: b.inY });
  const p2 = mix({ x: b.inX, y: b.inY }, b);
  const left = mix(p1, m);
  const right = mix(m, p2);
  const at = mix(left, right);
  const out = nodes.slice();
  out[n] = { ...a, outX: p1.x, outY: p1.y };
  out[(n + 1) % nodes.length] = { ...out[(n + 1) % nodes.length], inX: p2.x, inY: p2.y };
  out.splice(n + 1, 0, { ...at, inX: left.x, inY: left.y, outX: right.x, outY: right.y });
  return out;
}
