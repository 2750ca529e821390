'use client';

import { plateKeyAt } from '@/core/shot/plateAtMoment';
import { Input, InputNumber } from 'antd';
import { memo, useRef, useState } from 'react';
import { handedSize } from '@/core/shot/document';
import { parallaxOf } from '@/core/stereo/parallax';
import { comfortPx, inUnit } from '@/core/stereo/units';
import { NARROWEST_SPAN } from '@/core/shot/cutPlate';
import { signed } from '../numbers';
import { stageOf, type RoomState } from '../stages';
import { useRoom, useRoomStore } from '../room/context';
import { CardActs } from './CardActs';
import { movePatch, spanPatch, type Hung } from './hang';
import { arrowStep, useDrag } from './useDrag';

export type CardForm = 'pictured' | 'figures' | 'name';

interface Props {
  readonly plate: Hung;
  readonly y: number;
  readonly height: number;
  readonly lane: number;
  readonly top: number;
  readonly length: number;
  /** How much of it is shown: picture and figures, figures, or its name alone. */
  readonly form: CardForm;
}

/**
 * A plate's card: its picture, its depths (which can be typed) and their parallax. A click takes it in work, dragging
 * moves its whole span.
 */
export const Card = memo(function Card({ plate, y, height, lane, top, length, form }: Props) {
  const room = useRoomStore().getState();
  const pictured = form === 'pictured';
  const active = useRoom((s) => s.active === plate.id);
  const store = useRoomStore();
  const start = useRef(store.getState().document);
  const moved = useRef(false);
  const [renaming, setRenaming] = useState<string | undefined>();
  const { id, near, far, name } = plate;
  const move = (by: number): void => {
    room.try(movePatch(start.current, id, by));
  };
  const drag = useDrag({
    onStart: () => {
      start.current = store.getState().document;
      moved.current = false;
    },
    onMove: (dy) => {
      if (Math.abs(dy) > 3) moved.current = true;
      if (moved.current && !plate.locked && plate.cut) move(dy / length);
    },
    onEnd: () => {
      if (moved.current) room.keep(`Move ${name} in depth`);
      else room.set({ active: id });
    },
  });
  const from = top + ((near + far) / 2) * length;
  const rename = (): void => {
    const next = (renaming ?? '').trim();
    setRenaming(undefined);
    if (id !== null && next !== '' && next !== name) room.change(`Rename to ${next}`, { plates: [{ id, name: next }] });
  };
  return (
    <>
      <svg className={`ct-thread${active ? ' on' : ''}`} aria-hidden>
        <path d={`M${lane} ${from} C ${lane + 16} ${from + 14}, 138 ${y + 8}, 150 ${y + 8}`} />
        <circle cx={lane} cy={from} r="3.5" />
      </svg>
      <div
        className={`ct-card${active ? ' on' : ''}${plate.hidden ? ' down' : ''}${plate.cut ? '' : ' planned'}${form === 'name' ? ' name' : ''}`}
        style={{ top: y, height }}
        role="group"
        aria-label={name}
        tabIndex={0}
        {...drag}
        onKeyDown={(e) => {
          if (e.target !== e.currentTarget) return;
          if (e.key === 'Enter' || e.key === ' ') {
            e.preventDefault();
            room.set({ active: id });
            return;
          }
          const step = arrowStep(e);
          if (step === undefined || plate.locked || !plate.cut) return;
          e.preventDefault();
          start.current = store.getState().document;
          move(step);
          room.keepSoon(`Move ${name} in depth`);
        }}
      >
        <i className="ct-pin" aria-hidden />
        {pictured && plate.cut && !plate.hidden && <Thumb id={id} tall={active} />}
        {renaming === undefined ? (
          <b
            title={id === null ? undefined : 'Double click to rename'}
            onDoubleClick={() => {
              if (id !== null) setRenaming(name);
            }}
          >
            {name}
            {plate.locked && <small> locked</small>}
            {plate.group && <small> in {plate.group}</small>}
          </b>
        ) : (
          <Input
            size="small"
            autoFocus
            value={renaming}
            maxLength={60}
            aria-label="New name of the plate"
            onPointerDown={(e) => {
              e.stopPropagation();
            }}
            onChange={(e) => {
              setRenaming(e.target.value);
            }}
            onBlur={rename}
            onPressEnter={rename}
          />
        )}
        {form !== 'name' && <CardBody plate={plate} active={active} pictured={pictured} />}
        {active && id !== null && (
          <span
            className="ct-card-acts"
            onPointerDown={(e) => {
              e.stopPropagation();
            }}
          >
            <CardActs
              plate={plate}
              id={id}
              onRename={() => {
                setRenaming(name);
              }}
            />
          </span>
        )}
      </div>
    </>
  );
});

/** Why a plate has nothing to show at the frame that is seen. */
function Uncut({ id }: { id: string | null }) {
  const plate = useRoom((s) => s.document.plates.find((p) => p.id === id));
  const moment = useRoom((s) => s.document.source.moment ?? 0);
  if (!plate || plate.keys.length === 0) return <span>planned, not cut yet</span>;
  return <span>{plateKeyAt(plate, moment) ? 'not seen here' : 'not carried to here'}</span>;
}

/** What a card says below its name: that a plate is planned or hidden, or its depths and their parallax. */
function CardBody({ plate, active, pictured }: { plate: Hung; active: boolean; pictured: boolean }) {
  const unit = useRoom((s) => s.unit);
  const { budget, viewing } = useRoom((s) => s.document);
  const across = useRoom((s) => handedSize(s.document).width);
  const note = useRoom((s) => stageOf(s.stage).cardNote?.(s as RoomState, plate.id));
  const { id, name, near, far } = plate;
  if (!plate.cut) return <Uncut id={id} />;
  if (plate.hidden) return <span>face down: hidden</span>;
  const comfort = comfortPx(across, viewing);
  const pNear = parallaxOf(near, budget);
  const pFar = parallaxOf(far, budget);
  const over = Math.max(comfort.nearPx - pNear, pFar - comfort.farPx);
  const shown = (px: number): string => signed(inUnit(px, unit, across, viewing), unit === 'px' ? 1 : 2);
  return (
    <>
      <span
        className="ct-card-figures"
        onPointerDown={(e) => {
          if (active) e.stopPropagation();
        }}
      >
        {active && !plate.locked && (
          <>
            <Typed id={id} name={name} end="far" near={near} far={far} /> to{' '}
            <Typed id={id} name={name} end="near" near={near} far={far} />
          </>
        )}
        {(!active || plate.locked) && pictured && `${far.toFixed(2)} to ${near.toFixed(2)}`}
      </span>
      {note ? (
        <span className="ct-warn">{note}</span>
      ) : (
        <span>
          {shown(pFar)} to {shown(pNear)} {unit}
        </span>
      )}
      {over > 0.05 && pictured && <span className="ct-warn">{signed(over, 1).replace('+', '')} px too deep</span>}
    </>
  );
}

/** The plate's own picture, or the source for the back plate. */
const Thumb = memo(function Thumb({ id, tall }: { id: string | null; tall: boolean }) {
  const shot = useRoom((s) => s.shot.id);
  const source = useRoom((s) => s.document.source);
  const matte = useRoom((s) => s.document.plates.find((p) => p.id === id)?.matte);
  const frame = source.moment === undefined ? '' : `frame=${source.moment}&`;
  const width = Math.min(source.width, 236);
  const height = Math.max(1, Math.min(source.height, Math.round((width * source.height) / source.width)));
  const whole = `left=0&top=0&right=${source.width}&bottom=${source.height}&width=${width}&height=${height}`;
  const src =
    id === null
      ? `/api/shots/${shot}/picture?media=${source.mediaId}&${frame}${whole}`
      : `/api/shots/${shot}/plates/picture?media=${source.mediaId}&matte=${matte}&${frame}${whole}`;
  return (
    <img
      src={src}
      alt=""
      className={id === null ? '' : 'ct-cut'}
      style={{ height: tall ? 60 : 44 }}
      draggable={false}
    />
  );
});

/**
 * One end of the span as a figure that can be typed. Memoised: a dragged budget must not draw fields anew that it does
 * not change.
 */
const Typed = memo(function Typed({
  id,
  name,
  end,
  near,
  far,
}: {
  id: string | null;
  name: string;
  end: 'near' | 'far';
  near: number;
  far: number;
}) {
  const room = useRoomStore().getState();
  const bounds = end === 'far' ? { min: 0, max: near - NARROWEST_SPAN } : { min: far + NARROWEST_SPAN, max: 1 };
  return (
    <InputNumber
      size="small"
      variant="borderless"
      controls={false}
      precision={2}
      step={0.01}
      value={end === 'far' ? far : near}
      {...bounds}
      aria-label={`${name}, ${end === 'far' ? 'farthest' : 'nearest'} depth`}
      onChange={(v) => {
        if (v !== null) room.try(spanPatch(id, end === 'near' ? v : near, end === 'far' ? v : far));
      }}
      onBlur={() => {
        room.keep('Depth span');
      }}
      onPressEnter={() => {
        room.keep('Depth span');
      }}
    />
  );
});
