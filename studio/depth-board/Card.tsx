'use client';

import { Button, Input, InputNumber, Popconfirm } from 'antd';
import { memo, useRef, useState } from 'react';
import { parallaxOf } from '@/core/stereo/parallax';
import { comfortPx, inUnit } from '@/core/stereo/units';
import { NARROWEST_SPAN } from '@/core/shot/cutPlate';
import { signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { spanPatch, type Hung } from './hang';
import { arrowStep, useDrag } from './useDrag';

interface Props { readonly plate: Hung; readonly y: number; readonly height: number; readonly lane: number; readonly top: number; readonly length: number; readonly pictured: boolean }

/** A plate's card: its picture, its depths (which can be typed) and their parallax. A click takes it in work, dragging moves its whole span. */
export function Card({ plate, y, height, lane, top, length, pictured }: Props) {
  const room = useRoomStore().getState();
  const unit = useRoom((s) => s.unit), active = useRoom((s) => s.active === plate.id);
  const { budget, source, viewing } = useRoom((s) => s.document);
  const start = useRef(plate), moved = useRef(false);
  const [renaming, setRenaming] = useState<string | undefined>();
  const { id, near, far, name } = plate;
  const move = (from: { near: number; far: number }, by: number): void => {
    const d = Math.round(Math.min(1 - from.near, Math.max(-from.far, by)) * 1000) / 1000;
    room.try(spanPatch(id, Math.round((from.near + d) * 1000) / 1000, Math.round((from.far + d) * 1000) / 1000));
  };
  const drag = useDrag({
    onStart: () => { start.current = plate; moved.current = false; },
    onMove: (dy) => { if (Math.abs(dy) > 3) moved.current = true; if (moved.current && !plate.locked && plate.cut) move(start.current, dy / length); },
    onEnd: () => { if (moved.current) room.keep(`Move ${name} in depth`); else room.set({ active: id }); },
  });
  const comfort = comfortPx(source.width, viewing);
  const pNear = parallaxOf(near, budget), pFar = parallaxOf(far, budget);
  const over = Math.max(comfort.nearPx - pNear, pFar - comfort.farPx);
  const shown = (px: number): string => signed(inUnit(px, unit, source.width, viewing), unit === 'px' ? 1 : 2);
  const from = top + ((near + far) / 2) * length;
  const rename = (): void => {
    const next = (renaming ?? '').trim();
    setRenaming(undefined);
    if (id !== null && next !== '' && next !== name) room.change(`Rename to ${next}`, { plates: [{ id, name: next }] });
  };
  return (
    <>
      <svg className={`ct-thread${active ? ' on' : ''}`} aria-hidden><path d={`M${lane} ${from} C ${lane + 16} ${from + 14}, 138 ${y + 8}, 150 ${y + 8}`} /><circle cx={lane} cy={from} r="3.5" /></svg>
      <div
        className={`ct-card${active ? ' on' : ''}${plate.hidden ? ' down' : ''}${plate.cut ? '' : ' planned'}`} style={{ top: y, height }} role="group" aria-label={name} tabIndex={0} {...drag}
        onKeyDown={(e) => {
          if (e.target !== e.currentTarget) return;
          if (e.key === 'Enter' || e.key === ' ') { e.preventDefault(); room.set({ active: id }); return; }
          const step = arrowStep(e);
          if (step === undefined || plate.locked || !plate.cut) return;
          e.preventDefault();
          move(plate, step);
          room.keep(`Move ${name} in depth`);
        }}
      >
        <i className="ct-pin" aria-hidden />
        {pictured && plate.cut && !plate.hidden && <Thumb id={id} tall={active} />}
        {renaming === undefined
          ? <b title={id === null ? undefined : 'Double click to rename'} onDoubleClick={() => { if (id !== null) setRenaming(name); }}>{name}{plate.locked && <small> locked</small>}</b>
          : <Input size="small" autoFocus value={renaming} maxLength={60} aria-label="New name of the plate" onPointerDown={(e) => { e.stopPropagation(); }} onChange={(e) => { setRenaming(e.target.value); }} onBlur={rename} onPressEnter={rename} />}
        {!plate.cut ? <span>planned, not cut yet</span> : plate.hidden ? <span>face down: hidden</span> : (
          <>
            <span className="ct-card-figures" onPointerDown={(e) => { if (active) e.stopPropagation(); }}>
              {active && !plate.locked ? <><Typed id={id} name={name} end="far" near={near} far={far} /> to <Typed id={id} name={name} end="near" near={near} far={far} /></> : (pictured && <>{far.toFixed(2)} to {near.toFixed(2)}</>)}
            </span>
            <span>{shown(pFar)} to {shown(pNear)} {unit}</span>
            {over > 0.05 && (pictured || active) && <span className="ct-warn">{signed(over, 1).replace('+', '')} px too deep</span>}
          </>
        )}
        {active && id !== null && (
          <span className="ct-card-acts" onPointerDown={(e) => { e.stopPropagation(); }}>
            <Button type="link" size="small" onClick={() => { room.change(plate.hidden ? `Show ${name}` : `Hide ${name}`, { plates: [{ id, hidden: !plate.hidden }] }); }}>{plate.hidden ? 'Show' : 'Hide'}</Button>
            <Button type="link" size="small" onClick={() => { room.change(plate.locked ? `Unlock ${name}` : `Lock ${name}`, { plates: [{ id, locked: !plate.locked }] }); }}>{plate.locked ? 'Unlock' : 'Lock'}</Button>
            <Popconfirm title={`Remove ${name}?`} description="Undo brings it back." okText="Remove" cancelText="Keep" onConfirm={() => { room.removePlate(id); }}><Button type="link" size="small" disabled={plate.locked}>Remove</Button></Popconfirm>
          </span>
        )}
      </div>
    </>
  );
}

/** The plate's own picture, or the source for the back plate. */
const Thumb = memo(function Thumb({ id, tall }: { id: string | null; tall: boolean }) {
  const shot = useRoom((s) => s.shot.id), source = useRoom((s) => s.document.source);
  const matte = useRoom((s) => s.document.plates.find((p) => p.id === id)?.matte);
  const width = Math.min(source.width, 236), height = Math.max(1, Math.min(source.height, Math.round((width * source.height) / source.width)));
  const whole = `left=0&top=0&right=${source.width}&bottom=${source.height}&width=${width}&height=${height}`;
  const src = id === null ? `/api/shots/${shot}/picture?${whole}` : `/api/shots/${shot}/plates/picture?matte=${matte}&${whole}`;
  return <img src={src} alt="" className={id === null ? '' : 'ct-cut'} style={{ height: tall ? 60 : 44 }} draggable={false} />;
});

/** One end of the span as a figure that can be typed. Memoised: a dragged budget must not draw fields anew that it does not change. */
const Typed = memo(function Typed({ id, name, end, near, far }: { id: string | null; name: string; end: 'near' | 'far'; near: number; far: number }) {
  const room = useRoomStore().getState();
  const bounds = end === 'far' ? { min: 0, max: near - NARROWEST_SPAN } : { min: far + NARROWEST_SPAN, max: 1 };
  return (
    <InputNumber size="small" variant="borderless" controls={false} precision={2} step={0.01} value={end === 'far' ? far : near} {...bounds} aria-label={`${name}, ${end === 'far' ? 'farthest' : 'nearest'} depth`}
      onChange={(v) => { if (v !== null) room.try(spanPatch(id, end === 'near' ? v : near, end === 'far' ? v : far)); }} onBlur={() => { room.keep('Depth span'); }} onPressEnter={() => { room.keep('Depth span'); }} />
  );
});
