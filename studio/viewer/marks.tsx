'use client';

import type { Point } from '@/core/raster/geometry';
import { curveAt, type CurveNode } from '@/core/matte/curve';

type ToScreen = (p: Point) => Point;

const line = (points: readonly Point[], to: ToScreen): string =>
  points
    .map((p) => {
      const s = to(p);
      return `${s.x.toFixed(1)},${s.y.toFixed(1)}`;
    })
    .join(' ');

/** A round brush: its size, and a word for what it says. */
export function RoundMark({ at, zoom, size, says }: { at: Point; zoom: number; size: number; says: string }) {
  return (
    <>
      <div className="ct-brush" style={{ left: at.x, top: at.y, width: size * zoom, height: size * zoom }} />
      <div className="ct-slip" style={{ left: at.x + (size * zoom) / 2 + 8, top: at.y - 14 }}>
        <b>{says}</b>
      </div>
    </>
  );
}

/** The stroke that is being drawn: pale cork for in and for hair, dark for out. */
export function Trail({
  points,
  zoom,
  size,
  dark,
}: {
  points: readonly Point[];
  zoom: number;
  size: number;
  dark: boolean;
}) {
  return (
    <svg className="ct-over" aria-hidden>
      <polyline
        points={points.map((p) => `${p.x},${p.y}`).join(' ')}
        stroke={dark ? '#24211C' : '#FFD9A0'}
        strokeWidth={Math.max(2, size * zoom)}
        strokeLinecap="round"
        strokeLinejoin="round"
        opacity=".8"
      />
    </svg>
  );
}

/** Strokes that were drawn before, pale. */
export function PaleStrokes({
  strokes,
  to,
  zoom,
}: {
  strokes: readonly { readonly size: number; readonly points: readonly Point[] }[];
  to: ToScreen;
  zoom: number;
}) {
  if (strokes.length === 0) return null;
  return (
    <svg className="ct-over" aria-hidden>
      {strokes.map((s, n) => (
        <polyline
          key={n}
          points={line(s.points.length > 1 ? s.points : [s.points[0], s.points[0]], to)}
          stroke="#FFD9A0"
          strokeWidth={Math.max(2, s.size * zoom)}
          strokeLinecap="round"
          strokeLinejoin="round"
          opacity=".28"
        />
      ))}
    </svg>
  );
}

/** Open line with its corners, on the way to being closed. */
export function OpenLine({ points, corners }: { points: readonly Point[]; corners: readonly Point[] }) {
  const path = points.map((p) => `${p.x},${p.y}`).join(' ');
  return (
    <svg className="ct-over">
      <polygon className="ct-inside" points={path} />
      <polyline className="ct-casing" points={path} />
      <polyline className="ct-line" points={path} />
      {corners.map((p, n) => (
        <circle key={n} cx={p.x} cy={p.y} r="4" />
      ))}
    </svg>
  );
}

/** A path that is being drawn, with its ends. */
export function OpenPath({ points, corners }: { points: readonly Point[]; corners: readonly Point[] }) {
  const path = points.map((p) => `${p.x},${p.y}`).join(' ');
  return (
    <svg className="ct-over">
      <polyline className="ct-casing" points={path} />
      <polyline className="ct-line" points={path} />
      {corners.map((p, n) => (
        <circle key={n} cx={p.x} cy={p.y} r="4" />
      ))}
    </svg>
  );
}

/** Paths that are held, with the width that each of them has. */
export function HeldPaths({
  paths,
}: {
  paths: readonly { readonly points: readonly Point[]; readonly width: number }[];
}) {
  if (paths.length === 0) return null;
  return (
    <svg className="ct-over" aria-hidden>
      {paths.map(({ points, width }, n) => {
        const path = points.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' ');
        return (
          <g key={n} className="ct-held">
            <polyline points={path} stroke="#FFD9A0" strokeWidth={width} opacity=".25" />
            <polyline className="ct-casing" points={path} />
            <polyline className="ct-line" points={path} />
          </g>
        );
      })}
    </svg>
  );
}

/** The rings of proposed pieces under the pen, or collected by it. */
export function Rings({ rings, to }: { rings: readonly (readonly Point[])[]; to: ToScreen }) {
  const d = rings.map((ring) => `M${line(ring, to).replace(/ /g, 'L')}Z`).join('');
  return (
    <svg className="ct-over" aria-hidden>
      <path className="ct-piece" fillRule="evenodd" d={d} />
      <path className="ct-casing" d={d} />
      <path className="ct-line" d={d} />
    </svg>
  );
}

/** An outline by its corners, or a curve by its nodes. */
type Shape =
  | { readonly kind: 'outline'; readonly points: readonly Point[] }
  | { readonly kind: 'curve'; readonly nodes: readonly CurveNode[] };

/** A shape's corners and handles, to be taken hold of. */
export function Corners({ shape, to }: { shape: Shape; to: ToScreen }) {
  if (shape.kind === 'outline') {
    return (
      <svg className="ct-over" aria-hidden>
        <polygon className="ct-casing" points={line(shape.points, to)} />
        <polygon className="ct-line" points={line(shape.points, to)} />
        {shape.points.map((p, n) => {
          const s = to(p);
          return <circle key={n} cx={s.x} cy={s.y} r="5" />;
        })}
      </svg>
    );
  }
  return <Curve nodes={shape.nodes} closed to={to} handles />;
}

/** A Bezier outline with its nodes and handles. */
export function Curve({
  nodes,
  closed,
  to,
  handles,
}: {
  nodes: readonly CurveNode[];
  closed: boolean;
  to: ToScreen;
  handles: boolean;
}) {
  const d = pathOf(nodes, closed, to);
  return (
    <svg className="ct-over" aria-hidden>
      <path className="ct-casing" d={d} />
      <path className="ct-line" d={d} />
      {handles &&
        nodes.map((c, n) => {
          const p = to(c);
          const a = to({ x: c.inX, y: c.inY });
          const b = to({ x: c.outX, y: c.outY });
          return (
            <g key={n}>
              <line className="ct-handle" x1={a.x} y1={a.y} x2={p.x} y2={p.y} />
              <line className="ct-handle" x1={p.x} y1={p.y} x2={b.x} y2={b.y} />
              <circle className="ct-handle-end" cx={a.x} cy={a.y} r="3.5" />
              <circle className="ct-handle-end" cx={b.x} cy={b.y} r="3.5" />
              <circle cx={p.x} cy={p.y} r="5" />
            </g>
          );
        })}
    </svg>
  );
}

function pathOf(nodes: readonly CurveNode[], closed: boolean, to: ToScreen): string {
  if (nodes.length === 0) return '';
  const first = to(nodes[0]);
  let d = `M${first.x} ${first.y}`;
  for (let n = 0; n < nodes.length - (closed ? 0 : 1); n++) {
    const a = nodes[n];
    const b = nodes[(n + 1) % nodes.length];
    const p = to({ x: a.outX, y: a.outY });
    const q = to({ x: b.inX, y: b.inY });
    const e = to(curveAt(a, b, 1));
    d += `C${p.x} ${p.y} ${q.x} ${q.y} ${e.x} ${e.y}`;
  }
  return d;
}
