'use client';

import { useRoom } from '../room/context';
import { useHistogram } from './useHistogram';

const BINS = 140;
const WIDEST = 36;

/** The cork with the silhouette of depth and the hairline of what is under the pointer. */
export function Cork({ top, length }: { top: number; length: number }) {
  const hover = useRoom((s) => s.hoverDepth);
  const painting = useRoom((s) => s.stage === 'depth' && s.opened.depth === 'paint' && s.brush.mode === 'set');
  // The brush's depth is a value of the plate in work, seen through its span.
  const brush = useRoom((s) => {
    const { near, far } = s.document.plates.find((p) => p.id === s.active)?.depth ?? s.document.depth;
    return far + (near - far) * s.brush.depth;
  });
  const counts = useHistogram(BINS);
  const most = Math.max(1, ...counts);
  const y = (depth: number): number => depth * length;
  const outline = counts
    .map((n, i) => `L${(WIDEST * (n / most) ** 0.55).toFixed(1)} ${y((i + 0.5) / BINS).toFixed(1)}`)
    .join(' ');
  return (
    <>
      <div className="ct-cork" style={{ top: top - 12, height: length + 24 }}>
        <svg width="76" height={length} style={{ top: 12 }} aria-hidden>
          <path d={`M0 ${y(0)} ${outline} L0 ${y(1)} Z`} />
          {Array.from({ length: 11 }, (_, n) => (
            <line key={n} className="ct-notch" x1="70" x2="76" y1={(n / 10) * length} y2={(n / 10) * length} />
          ))}
          {hover !== undefined && <line className="ct-hair" x1="0" x2="76" y1={y(hover)} y2={y(hover)} />}
        </svg>
      </div>
      {painting && (
        <div className="ct-brush-mark" style={{ top: top + y(brush) }} aria-hidden>
          <i />
        </div>
      )}
    </>
  );
}
