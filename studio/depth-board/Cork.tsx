'use client';

import { memo } from 'react';
import { useRoom } from '../room/context';
import { stageOf, type RoomState } from '../stages';
import { useHistogram } from './useHistogram';

const BINS = 140;
const WIDEST = 36;

/** The cork with the silhouette of depth and the hairline of what is under the pointer. */
export const Cork = memo(function Cork({ top, length }: { top: number; length: number }) {
  const hover = useRoom((s) => s.hoverDepth);
  const mark = useRoom((s) => stageOf(s.stage).boardMark?.(s as RoomState));
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
      {mark !== undefined && (
        <div className="ct-brush-mark" style={{ top: top + y(mark) }} aria-hidden>
          <i />
        </div>
      )}
    </>
  );
});
