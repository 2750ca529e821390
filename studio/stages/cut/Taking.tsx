'use client';

import { ingredientLabel, type Ingredient } from '@/core/matte/ingredients';
import { Button, Input } from 'antd';
import { CloseOutlined } from '@ant-design/icons';
import { useState } from 'react';
import type { WayToCombine } from '@/core/matte/combine';
import { figure } from '../../numbers';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';
import type { CutRoom } from './choosing';
import { Underway } from '../../parts/Underway';
import { SwitchRow } from '../../parts/SwitchRow';
import { JOINING, JOINING_WORDS } from './Joining';
import { OfferSolving } from './OfferSolving';

/** What is chosen so far, and cutting it. */
export function Taking() {
  const store = useRoomStore();
  const choice = useRoom((s) => s.choice);
  const working = useRoom((s) => s.working);
  const storing = useRoom((s) => s.storing);
  const active = useRoom((s) => s.document.plates.find((p) => p.id === s.active));
  const count = useRoom((s) => s.document.plates.length);
  const spare = useRoom((s) => s.spare);
  const moves = useRoom((s) => s.document.footage !== null);
  const [name, setName] = useState('');
  const planned = active?.piece ? undefined : active;
  const called = planned?.name ?? (name.trim() || `Plate ${count + 1}`);
  if (choice.ingredients.length === 0) {
    return (
      <div className="ct-taking">
        <p className="ct-hint">
          Nothing is chosen yet. {!planned && 'Open a way of choosing below.'}
          {planned?.matte && (
            <>
              A choice now cuts <b>{planned.name}</b> anew; for a new plate click the back plate’s card first.
            </>
          )}
          {planned?.matte === null && (
            <>
              The choice goes into <b>{planned.name}</b>.
            </>
          )}
        </p>
      </div>
    );
  }
  const busy = working !== undefined;
  const splits = active !== undefined && active.matte !== null && !active.locked && !moves;
  return (
    <section className="ct-taking" aria-label="The choice">
      <ul className="ct-ingredients" aria-label="Ingredients of the choice">
        {choice.ingredients.slice(-4).map((ingredient, k, shown) => (
          <Row key={k} one={ingredient} n={choice.ingredients.length - shown.length + k} />
        ))}
      </ul>
      {choice.ingredients.length > 4 && (
        <p className="ct-hint">and {figure(choice.ingredients.length - 4)} before these</p>
      )}
      {!planned && (
        <Input
          value={name}
          maxLength={60}
          placeholder={called}
          aria-label="Name of the plate"
          onChange={(e) => {
            setName(e.target.value);
          }}
        />
      )}
      {count > 0 && (
        <SwitchRow
          label="Leave to other plates what they hold"
          size="small"
          checked={spare}
          onChange={(v) => {
            store.getState().set({ spare: v });
          }}
        >
          Leave to others what they hold
        </SwitchRow>
      )}
      <OfferSolving />
      {planned?.locked && (
        <p className="ct-hint ct-warn">
          <b>{planned.name} is locked.</b> Unlock it on its card to cut it anew.
        </p>
      )}
      {busy ? (
        <Underway of="cut" />
      ) : (
        <>
          <Button
            type="primary"
            block
            disabled={storing !== 'stored' || planned?.locked}
            onClick={() => {
              store.getState().cut(planned?.id ?? null, called);
              setName('');
            }}
          >
            {planned?.matte ? `Cut ${called} anew` : `Cut ${called}`}
          </Button>
          <div className="ct-taking-acts">
            {splits && (
              <Button
                size="small"
                disabled={storing !== 'stored'}
                onClick={() => {
                  store.getState().split(active.id, name.trim() || `Part of ${active.name}`.slice(0, 60));
                  setName('');
                }}
              >
                Split it off {active.name}
              </Button>
            )}
            <Button
              size="small"
              onClick={() => {
                store.getState().dropChoice();
              }}
            >
              Drop all
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

/** One ingredient: chosen to be changed by a click, joined another way, or dropped. */
function Row({ one: ingredient, n }: { one: Ingredient; n: number }) {
  const store = useRoomStore();
  const edited = useRoom((s) => (s.editing ?? s.choice.ingredients.length - 1) === n);
  const next = (way: WayToCombine): WayToCombine =>
    JOINING[(JOINING.findIndex((j) => j.value === way) + 1) % JOINING.length].value;
  return (
    <li className={edited ? 'on' : ''}>
      <button
        type="button"
        className="ct-ingredient"
        aria-pressed={edited}
        onClick={() => {
          edit(store.getState(), ingredient, n);
        }}
      >
        {ingredientLabel(ingredient)}
      </button>
      <button
        type="button"
        className="ct-ingredient-way"
        title="Joins another way"
        aria-label={`${ingredientLabel(ingredient)} joins by ${JOINING_WORDS[ingredient.way]}; change`}
        onClick={() => {
          store.getState().changeIngredient(n, { ...ingredient, way: next(ingredient.way) });
        }}
      >
        {JOINING_WORDS[ingredient.way]}
      </button>
      <button
        type="button"
        aria-label={`Drop ${ingredientLabel(ingredient)} ${n + 1}`}
        title="Drop it"
        onClick={() => {
          store.getState().dropIngredient(n);
        }}
      >
        <CloseOutlined aria-hidden />
      </button>
    </li>
  );
}

/** The way of choosing in which an ingredient is changed: most are called as they are. */
const wayOf = (kind: Ingredient['kind']): string => (kind === 'curve' ? 'outline' : kind);

function edit(s: CutRoom, ingredient: Ingredient, n: number): void {
  s.set({
    editing: n,
    opened: { ...s.opened, cut: wayOf(ingredient.kind) },
    ...(ingredient.kind === 'flood'
      ? { flood: { tolerance: ingredient.tolerance, reach: ingredient.reach, connected: ingredient.connected } }
      : {}),
  });
}
