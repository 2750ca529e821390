'use client';

import { Button } from 'antd';
import { useEffect } from 'react';
import type { DepthMake } from '@/core/depth/makers';
import { PROFILES } from '@/core/depth/makers/round';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { useParallaxNote } from './parallaxNote';
import type { Shape } from './making';
import { useDepth, useDepthStore } from './slice';

const SHAPES = [
  { value: 'round', label: 'Round' },
  { value: 'slice', label: 'Slice' },
  { value: 'fit', label: 'Fit' },
  { value: 'mend', label: 'Mend' },
] as const;

const PROFILE_NAMES: Record<(typeof PROFILES)[number], string> = { ball: 'Ball', pillow: 'Pillow', tent: 'Tent' };

/** Bodies, depth slices, edges and terraces: whole maps changed by a few numbers. */
export function ShapeWay() {
  const store = useDepthStore();
  const shape = useDepth((s) => s.shape);
  const trying = useDepth((s) => s.shaping);
  const active = useDepth((s) => s.active);
  const cut = useDepth((s) => s.document.plates.find((p) => p.id === s.active && p.matte !== null)?.name);
  const note = useParallaxNote();
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.shaping) s.tryMake(undefined);
      s.set({ shaping: false });
    },
    [store, active],
  );
  const set = (part: Partial<Shape>): void => {
    const s = store.getState();
    const next = { ...s.shape, ...part };
    s.set({ shape: next, shaping: true });
    const make = makeOf(next);
    if (make.kind === 'round' && cut === undefined) s.tryMake(undefined);
    else s.tryMake(make, true);
  };
  const bead = (
    label: string,
    key: 'by' | 'reach' | 'from' | 'to' | 'times' | 'soft' | 'fitPx' | 'edge',
    range: { min: number; max: number; step: number; unit?: string; decimals?: number; note?: string; greys?: boolean },
  ) => (
    <Bead
      label={label}
      unit={range.unit ?? ''}
      {...(range.note === undefined ? {} : { note: range.note })}
      value={shape[key]}
      min={range.min}
      max={range.max}
      step={range.step}
      decimals={range.decimals ?? 2}
      greys={range.greys ?? false}
      onTry={(v) => {
        set({ [key]: v });
      }}
    />
  );
  const missing = shape.kind === 'round' && cut === undefined;
  return (
    <>
      <Choice
        label="What"
        value={shape.kind}
        onChange={(kind) => {
          set({ kind });
        }}
        options={SHAPES}
      />
      {shape.kind === 'round' && (
        <>
          <p className="ct-hint">
            {cut === undefined
              ? 'Rounding begins at the edge of a plate that was cut: choose its card on the board.'
              : `Gives ${cut} a body: nearer the farther from its edge; below 0 it is hollow.`}
          </p>
          <Choice
            label="Profile"
            value={shape.profile}
            onChange={(profile) => {
              set({ profile });
            }}
            options={PROFILES.map((value) => ({ value, label: PROFILE_NAMES[value] }))}
          />
          {bead('Nearer by', 'by', { min: -0.5, max: 0.5, step: 0.01 })}
          {bead('Risen over', 'reach', { min: 0.05, max: 1, step: 0.01 })}
        </>
      )}
      {shape.kind === 'slice' && (
        <>
          <p className="ct-hint">Moves and stretches everything between two depths.</p>
          {bead('From', 'from', { min: 0, max: 1, step: 0.01, note: note(shape.from), greys: true })}
          {bead('To', 'to', { min: 0, max: 1, step: 0.01, note: note(shape.to), greys: true })}
          {bead('Nearer by', 'by', { min: -0.5, max: 0.5, step: 0.01 })}
          {bead('Stretched', 'times', { min: 0, max: 4, step: 0.05, unit: 'times' })}
          {bead('Softly over', 'soft', { min: 0, max: 0.3, step: 0.01 })}
        </>
      )}
      {shape.kind === 'fit' && (
        <>
          <p className="ct-hint">
            Smooths the map, but not over the picture’s edges: depth edges move to where these are.
          </p>
          {bead('As far as', 'fitPx', { min: 1, max: 200, step: 1, unit: 'px', decimals: 0 })}
          {bead('An edge from', 'edge', { min: 1, max: 60, step: 1, unit: 'steps', decimals: 0 })}
        </>
      )}
      {shape.kind === 'mend' && (
        <p className="ct-hint">
          Steps of 8 bits are evened by half a step at most, softened edges made sharp, and places that say nothing
          filled from the farther side.
        </p>
      )}
      <Button
        type="primary"
        block
        disabled={missing || (!trying && shape.kind !== 'mend')}
        onClick={() => {
          const s = store.getState();
          const make = makeOf(s.shape);
          s.tryMake(make);
          s.set({ shaping: false });
          void s.make(make);
        }}
      >
        Make it the depth map
      </Button>
    </>
  );
}

/** What the numbers make. A slice whose ends were exchanged is meant all the same. */
function makeOf({ kind, profile, by, reach, from, to, times, soft, fitPx, edge }: Shape): DepthMake {
  switch (kind) {
    case 'round':
      return { kind, profile, by, reach };
    case 'slice': {
      const [low, high] = from < to ? [from, to] : [to, from];
      return { kind, from: low, to: Math.max(high, low + 0.001), by, times, soft };
    }
    case 'fit':
      return { kind, reach: fitPx, edge };
    case 'mend':
      return { kind };
  }
}
