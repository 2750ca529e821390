'use client';

import { useRef } from 'react';
import { handedSize } from '@/core/shot/document';
import { comfortPx, inUnit } from '@/core/stereo/units';
import { parallaxOf, type Budget } from '@/core/stereo/parallax';
import { signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { comfortStretch, scaleTicks } from './ruler';
import { arrowStep, useDrag } from './useDrag';

interface Place {
  readonly top: number;
  readonly length: number;
}

/** The parallax scale with the comfort band. Its head and foot are dragged to make the budget larger or smaller. */
export function Scale({ top, length }: Place) {
  const unit = useRoom((s) => s.unit);
  const { budget, viewing } = useRoom((s) => s.document);
  const across = useRoom((s) => handedSize(s.document).width);
  const comfort = comfortPx(across, viewing);
  const stretch = comfortStretch(budget, comfort);
  const limits = stretch
    ? [
        { d: stretch.from, on: stretch.from > 0 },
        { d: stretch.to, on: stretch.to < 1 },
      ].filter((l) => l.on)
    : [];
  const ticks = scaleTicks(budget, { unit, widthPx: across, viewing, length });
  const decimals = ticks[0]?.decimals ?? 0;
  const limitText = (d: number): string =>
    signed(inUnit(parallaxOf(d, budget), unit, across, viewing), Math.max(1, decimals));
  return (
    <div className="ct-scale" style={{ top, height: length }}>
      <div className="ct-scale-beyond" />
      {stretch && (
        <div
          className="ct-scale-inside"
          style={{ top: stretch.from * length, height: (stretch.to - stretch.from) * length }}
        />
      )}
      <svg width="54" height={length} aria-hidden>
        {ticks.map((t) => {
          const y = t.depth * length;
          const hidden = limits.some((l) => Math.abs(l.d * length - y) < 14);
          return (
            <g key={t.value}>
              <line x1={t.labelled ? 48 : 51} x2="54" y1={y} y2={y} />
              {t.labelled && !hidden && (
                <text x="44" y={Math.min(length - 3, Math.max(9, y + 4))}>
                  {signed(t.value, t.decimals)}
                </text>
              )}
            </g>
          );
        })}
        {limits.map(({ d }) => (
          <g key={d} className="ct-limit">
            <line x1="4" x2="54" y1={d * length} y2={d * length} />
            <text x="44" y={Math.min(length - 3, d * length + 13)}>
              {limitText(d)}
            </text>
          </g>
        ))}
      </svg>
      <Grip end="head" length={length} />
      <Grip end="foot" length={length} />
    </div>
  );
}

/** Head (far) or foot (near) of the scale: pulls its end of the budget, about the screen plane. */
function Grip({ end, length }: { end: 'head' | 'foot'; length: number }) {
  const store = useRoomStore();
  const room = store.getState();
  const { budget } = useRoom((s) => s.document);
  const from = useRef<Budget>(budget);
  const key = end === 'head' ? 'farPx' : 'nearPx';
  const name = end === 'head' ? 'Farthest' : 'Nearest';
  const pull = (start: Budget, pixels: number): void => {
    // Outwards (up at the head, down at the foot) makes this end deeper, a whole ruler doubling all depth.
    const outwards = end === 'head' ? -pixels : pixels;
    const all = Math.max(2, Math.abs(start.farPx - start.nearPx));
    const next = Math.round((start[key] + (end === 'head' ? 1 : -1) * (outwards / length) * all) * 10) / 10;
    room.try({ budget: { ...start, [key]: Math.max(-4000, Math.min(4000, next)) } });
  };
  const drag = useDrag({
    onStart: () => {
      from.current = budget;
    },
    onMove: (dy) => {
      pull(from.current, dy);
    },
    onEnd: () => {
      room.keep(`${name} parallax`);
    },
  });
  return (
    <div
      className={`ct-grip ct-grip-${end}`}
      role="slider"
      tabIndex={0}
      aria-label={`${name} parallax`}
      aria-valuenow={budget[key]}
      aria-valuetext={`${signed(budget[key], 1)} px`}
      aria-orientation="vertical"
      title={`Drag: ${name.toLowerCase()} parallax`}
      {...drag}
      onKeyDown={(e) => {
        const step = arrowStep(e);
        if (step === undefined) return;
        e.preventDefault();
        pull(store.getState().document.budget, step * length);
        room.keepSoon(`${name} parallax`);
      }}
    />
  );
}
