'use client';

import { InputNumber } from 'antd';
import { memo, useRef } from 'react';
import { parallaxOf } from '@/core/stereo/parallax';
import { comfortPx, inUnit } from '@/core/stereo/units';
import { signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { NARROWEST } from './Span';
import { arrowStep, useDrag } from './useDrag';

const HEIGHT = 128;

/** The back plate's card: its picture, its depths (which can be typed) and their parallax. Dragging it moves the whole span. */
export function Card({ top, length }: { top: number; length: number }) {
  const room = useRoomStore().getState();
  const unit = useRoom((s) => s.unit);
  const { depth, budget, source, viewing } = useRoom((s) => s.document);
  const shot = useRoom((s) => s.shot.id);
  const start = useRef(depth);
  const middle = (depth.near + depth.far) / 2;
  const y = Math.min(top + length - HEIGHT, Math.max(top, top + middle * length - HEIGHT / 2));
  const move = (from: { near: number; far: number }, by: number): void => {
    const d = Math.round(Math.min(1 - from.near, Math.max(-from.far, by)) * 1000) / 1000;
    room.try({ span: { near: Math.round((from.near + d) * 1000) / 1000, far: Math.round((from.far + d) * 1000) / 1000 } });
  };
  const drag = useDrag({ onStart: () => { start.current = depth; }, onMove: (dy) => { move(start.current, dy / length); }, onEnd: () => { room.keep('Depth span'); } });
  const comfort = comfortPx(source.width, viewing);
  const pNear = parallaxOf(depth.near, budget), pFar = parallaxOf(depth.far, budget);
  const over = Math.max(comfort.nearPx - pNear, pFar - comfort.farPx);
  const shown = (px: number): string => signed(inUnit(px, unit, source.width, viewing), unit === 'px' ? 1 : 2);
  const height = Math.min(60, Math.round((118 * source.height) / source.width));
  const width = Math.min(source.width, 236);
  const thread = { from: top + middle * length, to: y + 8 };
  return (
    <>
      <svg className="ct-thread" aria-hidden><path d={`M126 ${thread.from} C 140 ${thread.from + 14}, 138 ${thread.to}, 150 ${thread.to}`} /><circle cx="126" cy={thread.from} r="3.5" /></svg>
      <div
        className="ct-card" style={{ top: y }} role="group" aria-label="Back plate" tabIndex={0} {...drag}
        onKeyDown={(e) => {
          const step = e.target === e.currentTarget ? arrowStep(e) : undefined;
          if (step === undefined) return;
          e.preventDefault();
          move(depth, step);
          room.keep('Depth span');
        }}
      >
        <i className="ct-pin" aria-hidden />
        <img src={`/api/shots/${shot}/picture?left=0&top=0&right=${source.width}&bottom=${source.height}&width=${width}&height=${Math.max(1, Math.min(source.height, Math.round((width * source.height) / source.width)))}`} alt="" style={{ height }} draggable={false} />
        <b>Back plate</b>
        <span className="ct-card-figures" onPointerDown={(e) => { e.stopPropagation(); }}>
          <Typed end="far" /> to <Typed end="near" />
        </span>
        <span>{shown(pFar)} to {shown(pNear)} {unit}</span>
        {over > 0.05 && <span className="ct-warn">{signed(over, 1).replace('+', '')} px too deep</span>}
      </div>
    </>
  );
}

/** One end of the span as a figure that can be typed. Memoised: a dragged budget must not draw fields anew that it does not change. */
const Typed = memo(function Typed({ end }: { end: 'near' | 'far' }) {
  const room = useRoomStore().getState();
  const near = useRoom((s) => s.document.depth.near), far = useRoom((s) => s.document.depth.far);
  const bounds = end === 'far' ? { min: 0, max: near - NARROWEST } : { min: far + NARROWEST, max: 1 };
  return (
    <InputNumber size="small" variant="borderless" controls={false} precision={2} step={0.01} value={end === 'far' ? far : near} {...bounds} aria-label={`Back plate, ${end === 'far' ? 'farthest' : 'nearest'} depth`}
      onChange={(v) => { if (v !== null) room.try({ span: { near, far, [end]: v } }); }} onBlur={() => { room.keep('Depth span'); }} onPressEnter={() => { room.keep('Depth span'); }} />
  );
});
