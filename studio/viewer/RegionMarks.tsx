'use client';

import { useRoom } from '../room/context';

interface Point { readonly x: number; readonly y: number }

/** The brush of region paint: its size, and which side it says. */
export function RegionMark({ at, zoom }: { at: Point; zoom: number }) {
  const { side, size } = useRoom((s) => s.region);
  return (
    <>
      <div className="ct-brush" style={{ left: at.x, top: at.y, width: size * zoom, height: size * zoom }} />
      <div className="ct-slip" style={{ left: at.x + (size * zoom) / 2 + 8, top: at.y - 14 }}><b>{side}</b></div>
    </>
  );
}

/** The stroke that is being drawn: pale cork for in, dark for out. */
export function Trail({ points, zoom }: { points: readonly Point[]; zoom: number }) {
  const { side, size } = useRoom((s) => s.region);
  return (
    <svg className="ct-over" aria-hidden>
      <polyline points={points.map((p) => `${p.x},${p.y}`).join(' ')} stroke={side === 'in' ? '#FFD9A0' : '#24211C'} strokeWidth={Math.max(2, size * zoom)} strokeLinecap="round" strokeLinejoin="round" opacity=".8" />
    </svg>
  );
}
