'use client';

import { Input, InputNumber } from 'antd';
import { useState } from 'react';
import { curveOf, easeSchema, type EASES, type Ease } from '@/core/time/ease';
import { slackOf, withSlack, type Slack } from '@/core/time/slack';
import type { MovePart } from '@/core/shot/document';
import { Choice } from '../../parts/Choice';
import { setAt } from './beads';
import { useMove, useMoveStore } from './slice';

type Named = (typeof EASES)[number];
const SHAPES: readonly { readonly value: Named | 'own'; readonly label: string }[] = [
  { value: 'linear', label: 'Even' },
  { value: 'gentle', label: 'Soft' },
  { value: 'settle', label: 'Settle' },
  { value: 'late', label: 'Late' },
  { value: 'early', label: 'Early' },
  { value: 'hold', label: 'Hold' },
  { value: 'own', label: 'Own' },
];

/** An ease as its curve is written, the inner points of a cubic curve. */
const written = (ease: Exclude<Ease, 'hold'>): string => curveOf(ease).join(', ');

/** How a bead goes over to the next: a shape by name, as slack in frames, or as a curve in numbers. @param at the bead at the needle; -1: none */
export function EaseFields({ move, at }: { move: MovePart; at: number }) {
  const store = useMoveStore();
  const needle = useMove((s) => s.needle);
  if (move.pace === 'even') return <p className="ct-hint">One speed all along: eases rest (Length and way).</p>;
  const before = [...move.keys].reverse().find((k) => k.frame <= needle) ?? move.keys[0];
  const { ease } = at >= 0 ? move.keys[at] : before;
  const next = move.keys.find((k) => k.frame > needle);
  const out = at >= 0 && next ? { key: at, frames: next.frame - needle } : undefined;
  const coming = at > 0 ? { key: at - 1, frames: needle - move.keys[at - 1].frame } : undefined;
  const setEase = (n: number, to: Ease): void => {
    store.getState().tryMove({ keys: move.keys.map((k, i) => (i === n ? { ...k, ease: to } : k)) });
  };
  const slack = (label: string, end: keyof Slack, way: typeof out) =>
    way && (
      <div className="ct-field">
        <span>{label}</span>
        <InputNumber
          size="small"
          controls={false}
          aria-label={`${label}, frames`}
          suffix="frames"
          value={Number(slackOf(move.keys[way.key].ease, way.frames)[end].toFixed(1))}
          min={0}
          max={way.frames}
          onChange={(v) => {
            if (v !== null) setEase(way.key, withSlack(move.keys[way.key].ease, way.frames, end, v));
          }}
          onBlur={() => {
            store.getState().keep(label);
          }}
          onPressEnter={() => {
            store.getState().keep(label);
          }}
        />
      </div>
    );
  return (
    <>
      <Choice<Named | 'own'>
        label="From here to the next bead"
        value={typeof ease === 'string' ? ease : 'own'}
        options={SHAPES}
        onChange={(shape) => {
          setAt(store, {}, shape === 'own' ? [...curveOf(ease === 'hold' ? 'linear' : ease)] : shape);
          store.getState().keep('Ease');
        }}
      />
      {slack('Slack in', 'in', coming)}
      {slack('Slack out', 'out', out)}
      {out && ease !== 'hold' && (
        <Curve
          key={written(ease)}
          value={written(ease)}
          onKeep={(to) => {
            setEase(out.key, to);
            store.getState().keep('Ease');
          }}
        />
      )}
    </>
  );
}

/** A curve by the numbers of its inner points, as CSS writes them. */
function Curve({ value, onKeep }: { value: string; onKeep(ease: Ease): void }) {
  const [text, setText] = useState(value);
  const parsed = easeSchema.safeParse(text.split(',').map(Number));
  const keep = (): void => {
    if (text === value) return;
    if (parsed.success) onKeep(parsed.data);
    else setText(value);
  };
  return (
    <div className="ct-field">
      <span>Curve</span>
      <Input
        size="small"
        aria-label="Curve to the next bead"
        title="x1, y1, x2, y2 of cubic-bezier; x from 0 to 1"
        status={parsed.success ? '' : 'error'}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
        }}
        onBlur={keep}
        onPressEnter={keep}
      />
    </div>
  );
}
