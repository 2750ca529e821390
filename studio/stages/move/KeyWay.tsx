'use client';

import { Button, InputNumber } from 'antd';
import { useRef } from 'react';
import { reversedKeys, withKeyAt, withoutKey } from '@/core/camera/editKeys';
import type { CameraKey } from '@/core/shot/document';
import { AimFields } from './AimFields';
import { copyBead, keyAt, putBead, setAt } from './beads';
import { EaseFields } from './EaseFields';
import { beginMove, useMove, useMoveStore } from './slice';

/** The camera at the needle: where a value is set, a bead is. */
export function KeyWay() {
  const store = useMoveStore();
  const needle = useMove((s) => s.needle);
  const document = useMove((s) => s.document);
  const move = document.move ?? beginMove(document);
  const copied = useMove((s) => s.copied !== null);
  const at = move.keys.findIndex((key) => key.frame === needle);
  const key = keyAt(move, needle);
  const room = store.getState();
  const set = (value: Partial<CameraKey['value']>, ease?: CameraKey['ease']): void => {
    setAt(store, value, ease);
  };
  const typed = useRef<number | undefined>(undefined);
  const moveTyped = (): void => {
    const s = store.getState();
    const now = s.document.move;
    const frame = typed.current === undefined ? needle : typed.current - 1;
    typed.current = undefined;
    if (!now || at < 0 || frame === needle) return;
    const keys = withKeyAt(now.keys, at, frame, now.frames);
    s.tryMove({ keys });
    s.seek(keys[at].frame);
    s.keep('Move a bead');
  };
  const keep = (): void => {
    room.keep(`Camera at frame ${store.getState().needle + 1}`);
  };
  const field = (
    label: string,
    unit: string,
    value: number,
    { change, decimals, step, min, max }: Limits & { change(v: number): void },
  ) => (
    <div className="ct-field" key={label}>
      <span>{label}</span>
      <InputNumber
        size="small"
        aria-label={`${label}, ${unit}`}
        value={Number(value.toFixed(decimals))}
        step={step}
        min={min}
        max={max}
        suffix={unit}
        controls={false}
        keyboard
        onChange={(v) => {
          if (v !== null) change(v);
        }}
        onBlur={keep}
        onPressEnter={keep}
      />
    </div>
  );
  const place = (n: number) => (v: number) => {
    const position = [...key.value.position] as [number, number, number];
    position[n] = v;
    set({ position });
  };
  return (
    <>
      <p className="ct-hint">
        {at >= 0 ? (
          <>
            Bead <b>{at + 1}</b> of {move.keys.length}, at frame <b>{needle + 1}</b>.
          </>
        ) : (
          <>
            Between beads, at frame <b>{needle + 1}</b>. A changed value sets one.
          </>
        )}
      </p>
      {at >= 0 && (
        <div className="ct-field">
          <span>Frame</span>
          <InputNumber
            key={needle}
            size="small"
            aria-label="Frame of the bead"
            controls={false}
            precision={0}
            defaultValue={needle + 1}
            min={1}
            max={move.frames}
            onChange={(v) => {
              typed.current = v ?? undefined;
            }}
            onPressEnter={moveTyped}
            onBlur={moveTyped}
          />
        </div>
      )}
      {field('Right', 'm', key.value.position[0], { ...METRES, change: place(0) })}
      {field('Up', 'm', key.value.position[1], { ...METRES, change: place(1) })}
      {field('Forward', 'm', key.value.position[2], { ...METRES, change: place(2) })}
      {field('Pan', '°', key.value.pan, {
        ...DEGREES,
        change: (pan) => {
          set({ pan });
        },
      })}
      {field('Tilt', '°', key.value.tilt, {
        ...DEGREES,
        change: (tilt) => {
          set({ tilt });
        },
      })}
      {field('Roll', '°', key.value.roll, {
        ...DEGREES,
        change: (roll) => {
          set({ roll });
        },
      })}
      {field('Zoom', '×', key.value.zoom, {
        ...ZOOM,
        change: (zoom) => {
          set({ zoom });
        },
      })}
      <AimFields aim={key.value.aim} />
      <EaseFields move={move} at={at} />
      <div className="ct-acts">
        <Button
          size="small"
          disabled={at >= 0}
          onClick={() => {
            set({});
            keep();
          }}
        >
          Set a bead
        </Button>
        <Button
          size="small"
          disabled={at < 0 || move.keys.length < 2}
          onClick={() => {
            const s = store.getState();
            s.tryMove({ keys: withoutKey(move.keys, at) });
            s.set({ bead: null });
            s.keep('Take a bead off');
          }}
        >
          Take it off
        </Button>
        <Button
          size="small"
          disabled={move.keys.length < 2}
          onClick={() => {
            const s = store.getState();
            s.tryMove({ keys: reversedKeys(move.keys, move.frames) });
            s.keep('Turn the move round');
          }}
        >
          Turn round
        </Button>
        <Button
          size="small"
          onClick={() => {
            copyBead(store);
          }}
        >
          Copy
        </Button>
        <Button
          size="small"
          disabled={!copied}
          onClick={() => {
            putBead(store);
          }}
        >
          Put here
        </Button>
      </div>
    </>
  );
}

interface Limits {
  readonly decimals: number;
  readonly step: number;
  readonly min: number;
  readonly max: number;
}
const METRES: Limits = { decimals: 3, step: 0.01, min: -1e5, max: 1e5 };
const DEGREES: Limits = { decimals: 2, step: 0.1, min: -720, max: 720 };
const ZOOM: Limits = { decimals: 3, step: 0.01, min: 0.05, max: 20 };
