'use client';

import { Button } from 'antd';
import { useEffect } from 'react';
import { Choice } from '../../parts/Choice';
import { ShapeNumbers } from './ShapeNumbers';
import { makeOf, missing, SHAPES, type Shape } from './shapes';
import { useDepth, useDepthStore } from './slice';

const WHERE = (plate: string | undefined) =>
  [
    { value: 'all', label: plate ?? 'Everywhere' },
    { value: 'chosen', label: 'A part' },
  ] as const;

/** Bodies, depth slices, edges, unevenness: a whole map, or a part of it, changed by a few numbers. */
export function ShapeWay() {
  const store = useDepthStore();
  const shape = useDepth((s) => s.shape);
  const trying = useDepth((s) => s.shaping);
  const active = useDepth((s) => s.active);
  const choice = useDepth((s) => s.choice);
  const plate = useDepth((s) => s.document.plates.find((p) => p.id === s.active && p.matte !== null));
  const lacks = missing(shape, choice, plate !== undefined);
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.shaping) s.tryMake(undefined);
      s.set({ shaping: false });
    },
    [store, active],
  );
  // Whatever hand changes a number or the part, the map is tried anew.
  useEffect(() => {
    const s = store.getState();
    if (!s.shaping) return;
    s.tryMake(lacks === undefined ? makeOf(shape, choice) : undefined, true);
  }, [store, shape, choice, lacks]);
  const set = (part: Partial<Shape>): void => {
    const s = store.getState();
    s.set({ shape: { ...s.shape, ...part }, shaping: true });
  };
  return (
    <>
      <Choice
        label="What"
        value={shape.kind}
        onChange={(kind) => {
          set({ kind, picking: false });
        }}
        options={SHAPES}
      />
      {shape.kind !== 'mend' && (
        <Choice
          label="Where"
          value={shape.where}
          onChange={(where) => {
            set({ where });
          }}
          options={WHERE(plate?.name)}
        />
      )}
      {shape.where === 'chosen' && shape.kind !== 'mend' && <Part />}
      <ShapeNumbers shape={shape} set={set} />
      {lacks !== undefined && <p className="ct-hint ct-lacks">{lacks}</p>}
      <Button
        type="primary"
        block
        disabled={lacks !== undefined || (!trying && shape.kind !== 'mend')}
        onClick={() => {
          const s = store.getState();
          const make = makeOf(s.shape, s.choice);
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

/** What is chosen: the same choice as where plates are cut. */
function Part() {
  const store = useDepthStore();
  const many = useDepth((s) => s.choice.ingredients.length);
  return (
    <div className="ct-part">
      <span>{many === 0 ? 'Nothing chosen yet' : `${many} ${many === 1 ? 'shape' : 'shapes'} chosen`}</span>
      {many > 0 && (
        <button
          type="button"
          onClick={() => {
            const s = store.getState();
            s.set({ choice: { ...s.choice, ingredients: [] } });
          }}
        >
          Drop
        </button>
      )}
      <button
        type="button"
        title="By regions, edges, likeness or depth; it stays chosen when you come back, and can be cut into a plate"
        onClick={() => {
          store.getState().goFor('unchosen');
        }}
      >
        {many === 0 ? 'Choose in Cut' : 'Change in Cut'}
      </button>
    </div>
  );
}
