'use client';

import { Button, InputNumber } from 'antd';
import { useEffect, useState } from 'react';
import { CONTINUE_PROPOSALS } from '@/core/inpaint/continuation/proposals';
import type { FillMethod } from '@/core/inpaint/fillHole';
import { api, type FillAction } from '../../api';
import { Choice } from '../../parts/Choice';
import { Underway } from '../../parts/Underway';
import { HeldStrokes } from './HeldStrokes';
import { useFill as useRoom, useFillStore as useRoomStore } from './slice';

type Area = 'reveal' | 'hidden' | 'choice';
const CONTINUE_NAMES = CONTINUE_PROPOSALS.map((name) => name[0].toUpperCase() + name.slice(1));

type Side = 'everywhere' | 'left' | 'right' | 'above' | 'below' | 'choice';

/** Which proposals are asked for: of texture those of a seed and the next, of what goes on the first ones. */
function seedsOf(method: FillMethod, count: number, seed: number): number[] {
  if (method === 'smooth') return [1];
  const [first, many] = method === 'continue' ? [1, Math.min(3, count)] : [seed, count];
  return Array.from({ length: many }, (_, n) => first + n);
}

/** Filling by machine: where, with what, from where; several proposals of which one is taken. */
export function ByMachine() {
  const store = useRoomStore();
  const active = useRoom((s) => s.active);
  const name = useRoom((s) => s.document.plates.find((p) => p.id === s.active)?.name ?? 'the back plate');
  const fill = useRoom((s) =>
    s.active === null ? s.document.fill : (s.document.plates.find((p) => p.id === s.active)?.fill ?? null),
  );
  const behind = useRoom((s) => s.behind);
  const uncovered = useRoom((s) => s.uncovered);
  const choice = useRoom((s) => s.choice);
  const working = useRoom((s) => s.working);
  const looked = useRoom((s) => s.workLook !== null);
  const storing = useRoom((s) => s.storing);
  const proposals = useRoom((s) => s.proposals);
  const [method, setMethod] = useState<FillMethod>('continue');
  const [area, setArea] = useState<Area>('reveal');
  const [side, setSide] = useState<Side>('everywhere');
  const [count, setCount] = useState(1);
  const [seed, setSeed] = useState(1);
  const chosen = choice.ingredients.length > 0;
  const done = area === 'reveal' && uncovered !== undefined && !uncovered.some((u) => u.id === active && u.open > 0);
  const id = useRoom((s) => s.shot.id);
  useEffect(() => {
    // A fill would begin without it too, only later.
    api.readyToFill(id).catch(() => undefined);
  }, [id]);
  const start = (): void => {
    const act: FillAction = {
      action: 'fill',
      plate: active,
      method,
      seeds: seedsOf(method, count, seed),
      area: {
        reveal: { kind: 'reveal', views: behind.views, marginPx: behind.marginPx, byMove: behind.byMove } as const,
        hidden: { kind: 'hidden' } as const,
        choice: { kind: 'choice', choice } as const,
      }[area],
      sample: side === 'choice' ? { kind: 'choice', choice } : { kind: side },
    };
    store.getState().fillBy(`Fill ${name}`, act);
  };
  const needsChoice = (area === 'choice' || (side === 'choice' && method !== 'smooth')) && !chosen;
  return (
    <>
      <Choice<FillMethod>
        label="With"
        value={method}
        onChange={setMethod}
        options={[
          { value: 'continue', label: 'As it goes on' },
          { value: 'texture', label: 'Texture' },
          { value: 'smooth', label: 'Smooth' },
        ]}
      />
      <Choice<Area>
        label="Where"
        value={area}
        onChange={setArea}
        options={[
          { value: 'reveal', label: 'Uncovered' },
          { value: 'hidden', label: 'All hidden' },
          { value: 'choice', label: 'Choice' },
        ]}
      />
      {method === 'continue' && (
        <p className="ct-hint">
          Floors and walls go on by the depth map, lines and what repeats itself by the picture, as far as that is seen
          to hold beside the hole; smooth elsewhere. Three proposals: as it continues, soft, patched. It takes longer
          than texture.
        </p>
      )}
      {method !== 'smooth' && (
        <>
          <Choice<Side>
            label="Sampled from"
            value={side}
            onChange={setSide}
            options={[
              { value: 'everywhere', label: 'All of it' },
              { value: 'left', label: 'Left' },
              { value: 'right', label: 'Right' },
              { value: 'above', label: 'Above' },
              { value: 'below', label: 'Below' },
              { value: 'choice', label: 'Choice' },
            ]}
          />
          <div className="ct-two">
            <label>
              Proposals{' '}
              <InputNumber
                size="small"
                min={1}
                max={method === 'continue' ? 3 : 4}
                value={method === 'continue' ? Math.min(3, count) : count}
                aria-label="Proposals"
                onChange={(v) => {
                  setCount(v ?? 1);
                }}
              />
            </label>
            {method === 'texture' && (
              <label>
                Seed{' '}
                <InputNumber
                  size="small"
                  min={0}
                  max={1e9}
                  value={seed}
                  aria-label="Seed"
                  onChange={(v) => {
                    setSeed(v ?? 1);
                  }}
                />
              </label>
            )}
          </div>
        </>
      )}
      <HeldStrokes />
      {needsChoice && (
        <p className="ct-hint ct-warn">
          <b>Nothing is chosen.</b> Choose the area in the Cut stage first.
        </p>
      )}
      {working === undefined ? (
        <>
          {done && (
            <p className="ct-hint">
              Nothing of {name} is open: what the views uncover of it is filled, or they uncover nothing.
            </p>
          )}
          <Button
            type={done ? 'default' : 'primary'}
            block
            disabled={storing !== 'stored' || needsChoice}
            onClick={start}
          >
            {done ? `Fill ${name} all the same` : `Fill ${name}`}
          </Button>
        </>
      ) : (
        <>
          {looked && (
            <p className="ct-hint" role="status">
              A first look is shown behind {name}; the fill itself takes its place, part by part.
            </p>
          )}
          <Underway of="fill" />
        </>
      )}
      {proposals?.plate === active && proposals.revisions.length > 1 && (
        <div className="ct-taking-acts" role="group" aria-label="Proposals">
          {proposals.revisions.map((revision, n) => (
            <Button
              key={revision}
              size="small"
              aria-pressed={fill === revision}
              type={fill === revision ? 'primary' : 'default'}
              disabled={storing !== 'stored'}
              onClick={() => {
                store.getState().fillBy('Another proposal', { action: 'take', plate: active, revision });
              }}
            >
              {proposals.method === 'continue' ? CONTINUE_NAMES[n] : `Proposal ${n + 1}`}
            </Button>
          ))}
        </div>
      )}
      {fill !== null && (
        <Button
          block
          disabled={storing !== 'stored'}
          onClick={() => {
            store.getState().fillBy(`Throw away the fill of ${name}`, { action: 'clear', plate: active });
          }}
        >
          Throw this fill away
        </Button>
      )}
    </>
  );
}
