'use client';

import { Button } from 'antd';
import { PROFILES, ROUND_ALONG } from '@/core/depth/makers/round';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { useParallaxNote } from './parallaxNote';
import type { Shape } from './shapes';
import { useDepthStore } from './slice';

const PROFILE_NAMES: Record<(typeof PROFILES)[number], string> = { ball: 'Ball', pillow: 'Pillow', tent: 'Tent' };
const ALONG_NAMES: Record<(typeof ROUND_ALONG)[number], string> = { all: 'All around', across: 'Across', down: 'Down' };

interface Props {
  readonly shape: Shape;
  set(part: Partial<Shape>): void;
}

type Numbers = { [K in keyof Shape]: Shape[K] extends number ? K : never }[keyof Shape];
interface Range {
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly unit?: string;
  readonly decimals?: number;
  /** A depth of its own: with its grey, and its parallax. */
  readonly depth?: boolean;
}

/** The numbers of the shape in work. */
export function ShapeNumbers({ shape, set }: Props) {
  const note = useParallaxNote();
  const bead = (label: string, key: Numbers, { min, max, step, unit = '', decimals = 2, depth = false }: Range) => (
    <Bead
      label={label}
      unit={unit}
      {...(depth ? { note: note(shape[key]) } : {})}
      value={shape[key]}
      {...{ min, max, step, decimals, greys: depth }}
      onTry={(v) => {
        set({ [key]: v });
      }}
    />
  );
  switch (shape.kind) {
    case 'round':
      return (
        <>
          <p className="ct-hint">A body: nearer the farther from its edge; below 0 it is hollow.</p>
          <Choice
            label="Profile"
            value={shape.profile}
            onChange={(profile) => {
              set({ profile });
            }}
            options={PROFILES.map((value) => ({ value, label: PROFILE_NAMES[value] }))}
          />
          <Choice
            label="Rounded"
            value={shape.along}
            onChange={(along) => {
              set({ along });
            }}
            options={ROUND_ALONG.map((value) => ({ value, label: ALONG_NAMES[value] }))}
          />
          {bead('Nearer by', 'by', { min: -0.5, max: 0.5, step: 0.01 })}
          {bead('Risen over', 'reach', { min: 0.05, max: 1, step: 0.01 })}
        </>
      );
    case 'slice':
      return <SliceNumbers bead={bead} shape={shape} set={set} />;
    case 'level':
      return bead('Depth', 'level', { min: 0, max: 1, step: 0.01, depth: true });
    case 'blend':
      return (
        <>
          <p className="ct-hint">
            {shape.side === 'outward'
              ? 'The part’s depth fades into what surrounds it.'
              : 'What surrounds the part fades into it.'}
          </p>
          <Choice
            label="Way"
            value={shape.side}
            onChange={(side) => {
              set({ side });
            }}
            options={[
              { value: 'outward', label: 'Outward' },
              { value: 'inward', label: 'Inward' },
            ]}
          />
          {bead('Over', 'blendPx', { min: 1, max: 400, step: 1, unit: 'px', decimals: 0 })}
        </>
      );
    case 'match':
      return <MatchNumbers shape={shape} set={set} />;
    case 'uneven':
      return (
        <>
          <p className="ct-hint">Bumps for foliage, cloth and rubble.</p>
          {bead('By', 'bumps', { min: 0, max: 0.3, step: 0.005, decimals: 3 })}
          {bead('Bumps every', 'grain', { min: 2, max: 300, step: 1, unit: 'px', decimals: 0 })}
          <Button
            block
            onClick={() => {
              set({ seed: (shape.seed + 1) % 1_000_000 });
            }}
          >
            Other bumps
          </Button>
        </>
      );
    case 'fit':
      return (
        <>
          <p className="ct-hint">Depth edges move to the picture’s, and all between is smoothed.</p>
          <Choice
            label="By"
            value={shape.fitBy}
            onChange={(fitBy) => {
              set({ fitBy });
            }}
            options={[
              { value: 'smoothed', label: 'Smoothing' },
              { value: 'guided', label: 'Guided by colour' },
            ]}
          />
          {bead('As far as', 'fitPx', { min: 1, max: 200, step: 1, unit: 'px', decimals: 0 })}
          {bead('An edge from', 'edge', { min: 1, max: 60, step: 1, unit: 'steps', decimals: 0 })}
        </>
      );
    case 'mend':
      return (
        <p className="ct-hint">
          Steps of 8 bits are evened by half a step at most, softened edges made sharp, and places that say nothing
          filled from the farther side.
        </p>
      );
  }
}

function SliceNumbers({
  bead,
  shape,
}: Props & { readonly bead: (label: string, key: Numbers, range: Range) => React.ReactNode }) {
  const store = useDepthStore();
  return (
    <>
      <p className="ct-hint">Moves and stretches everything between two depths.</p>
      {bead('From', 'from', { min: 0, max: 1, step: 0.01, depth: true })}
      {bead('To', 'to', { min: 0, max: 1, step: 0.01, depth: true })}
      {bead('Nearer by', 'by', { min: -0.5, max: 0.5, step: 0.01 })}
      {bead('Stretched', 'times', { min: 0, max: 4, step: 0.05, unit: 'times' })}
      {bead('Softly over', 'soft', { min: 0, max: 0.3, step: 0.01 })}
      <Button
        block
        title="What lies between the two depths becomes the part in work: it can be drawn on, shaped in any way, or cut into a plate"
        onClick={() => {
          const s = store.getState();
          const far = Math.min(shape.from, shape.to);
          const near = Math.max(shape.from, shape.to);
          const { ingredients, edge } = s.choice;
          s.tryMake(undefined);
          s.set({
            choice: { edge, ingredients: [...ingredients, { kind: 'slice', way: 'add', far, near }] },
            shape: { ...s.shape, where: 'chosen' },
            shaping: false,
          });
        }}
      >
        Choose this slice
      </Button>
    </>
  );
}

function MatchNumbers({ shape, set }: Props) {
  return (
    <>
      <p className="ct-hint">Lays one part as deep as another place of the map.</p>
      <Button
        block
        aria-pressed={shape.picking}
        onClick={() => {
          set({ picking: !shape.picking });
        }}
      >
        {shape.picking && 'Press on the picture'}
        {!shape.picking && (shape.like ? 'Pick another place' : 'Pick a place')}
      </Button>
      {shape.like && (
        <Bead
          label="Its size"
          unit="px"
          value={shape.like.size}
          {...{ min: 1, max: 1000, step: 1, logarithmic: true }}
          onTry={(size) => {
            if (shape.like) set({ like: { ...shape.like, size: Math.max(1, size) } });
          }}
        />
      )}
      <SwitchRow
        label="Its span of depth, too"
        checked={shape.span}
        onChange={(span) => {
          set({ span });
        }}
      >
        Its span of depth, too
      </SwitchRow>
    </>
  );
}
