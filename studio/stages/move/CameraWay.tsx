'use client';

import { InputNumber, Select } from 'antd';
import { useState } from 'react';
import { fieldOfFocal, middleOf, focalOfField, focalOfMm, mmOfFocal } from '@/core/camera/sourceCamera';
import { DEEPEST, sourceCameraOf, type CameraPart } from '@/core/shot/document';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { useMove, useMoveStore } from './slice';

const UNITS = {
  degrees: { of: fieldOfFocal, to: focalOfField, decimals: 1, min: 2, max: 170 },
  mm: { of: mmOfFocal, to: focalOfMm, decimals: 1, min: 4, max: 2000 },
  px: { of: (f: number) => f, to: (v: number) => v, decimals: 0, min: 1, max: 1e6 },
} as const;
type Unit = keyof typeof UNITS;

/** The camera that took the source, and how deep the scene before it is. */
export function CameraWay() {
  const store = useMoveStore();
  const { source, camera, frame } = useMove((s) => s.document);
  const [unit, setUnit] = useState<Unit>('degrees');
  const room = store.getState();
  const came = frame ?? source;
  const { focalPx } = sourceCameraOf(camera, source, frame);
  const principalPoint = camera.principalPoint ?? middleOf(came);
  const change = (part: Partial<CameraPart>): void => {
    room.try({ camera: part });
  };
  const { of: inUnit, to, decimals, min, max } = UNITS[unit];
  const number = (label: string, value: number, set: (v: number) => void, [low, high]: readonly [number, number]) => (
    <InputNumber
      size="small"
      aria-label={label}
      controls={false}
      value={Number(value.toFixed(1))}
      min={low}
      max={high}
      onChange={(v) => {
        if (v !== null) set(v);
      }}
      onBlur={() => {
        room.keep(label);
      }}
      onPressEnter={() => {
        room.keep(label);
      }}
    />
  );
  return (
    <>
      <p className="ct-hint">Plates lie on the rays of the camera that took the source: at rest nothing changes.</p>
      <Bead
        label="Scene depth"
        unit="× nearest"
        value={camera.depth ?? DEEPEST}
        min={1.1}
        max={DEEPEST}
        step={0.1}
        decimals={(camera.depth ?? DEEPEST) < 100 ? 1 : 0}
        logarithmic
        onTry={(v) => {
          change({ depth: v >= DEEPEST ? null : Math.max(1.01, v) });
        }}
        onKeep={() => {
          room.keep('Depth of the scene');
        }}
      />
      <Bead
        label="Nearest"
        unit="m"
        value={camera.near}
        min={0.1}
        max={100}
        step={0.01}
        decimals={2}
        logarithmic
        onTry={(near) => {
          change({ near: Math.max(0.01, near) });
        }}
        onKeep={() => {
          room.keep('Distance of the nearest');
        }}
      />
      <div className="ct-field ct-field-three">
        <span>Lens</span>
        <InputNumber
          size="small"
          aria-label={`Focal length, ${unit}`}
          controls={false}
          value={Number(inUnit(focalPx, came.width).toFixed(decimals))}
          min={min}
          max={max}
          onChange={(v) => {
            if (v !== null) change({ focalPx: to(v, came.width) });
          }}
          onBlur={() => {
            room.keep('Focal length');
          }}
          onPressEnter={() => {
            room.keep('Focal length');
          }}
        />
        <Select<Unit>
          size="small"
          aria-label="Unit of the focal length"
          value={unit}
          options={[
            { value: 'degrees', label: '°' },
            { value: 'mm', label: 'mm' },
            { value: 'px', label: 'px' },
          ]}
          onChange={setUnit}
        />
      </div>
      <div className="ct-field ct-field-three">
        <span>Middle, px</span>
        {number(
          'Principal point across',
          principalPoint.x,
          (x) => {
            change({ principalPoint: { ...principalPoint, x } });
          },
          [-1e5, 1e5],
        )}
        {number(
          'Principal point down',
          principalPoint.y,
          (y) => {
            change({ principalPoint: { ...principalPoint, y } });
          },
          [-1e5, 1e5],
        )}
      </div>
      <Choice
        label="The eyes’ base, as the camera moves"
        value={camera.base}
        onChange={(base) => {
          room.change(base === 'stays' ? 'The base stays' : 'The base follows', { camera: { base } });
        }}
        options={[
          { value: 'stays', label: 'Stays' },
          { value: 'follows', label: 'Keeps the budget' },
        ]}
      />
    </>
  );
}
