'use client';

import { InputNumber } from 'antd';
import { wholeScene } from '@/core/scene/sceneAt';
import type { CameraKey } from '@/core/shot/document';
import { Choice } from '../../parts/Choice';
import { setAt } from './beads';
import { useMove, useMoveStore } from './slice';

type Aim = CameraKey['value']['aim'];
const AXES = ['right', 'up', 'away'] as const;
/** As good as without end, in the scene's unit. */
const FARTHEST = 1e5;

/** What keeps its place in the picture while the camera moves: nothing, the farthest, or a place that is typed or dragged in the plan. */
export function AimFields({ aim }: { aim: Aim }) {
  const store = useMoveStore();
  const camera = useMove((s) => wholeScene(s.document).camera);
  const far = Number.isFinite(camera.far) ? camera.far : FARTHEST;
  const farthest = aim !== null && aim[0] === 0 && aim[1] === 0 && aim[2] === far;
  const placed = aim !== null && !farthest;
  const set = (to: Aim): void => {
    setAt(store, { aim: to });
  };
  return (
    <>
      <Choice
        label="Aim: this stands still"
        value={placed ? 'place' : (aim && 'farthest') || 'none'}
        options={[
          { value: 'none', label: 'None' },
          { value: 'farthest', label: 'Farthest' },
          { value: 'place', label: 'A place' },
        ]}
        onChange={(way) => {
          const middle = (camera.near + Math.min(far, camera.near * 3)) / 2;
          set(way === 'none' ? null : [0, 0, way === 'farthest' ? far : middle]);
          store.getState().keep('Aim');
        }}
      />
      {placed && (
        <div className="ct-field ct-field-three">
          {AXES.map((name, n) => (
            <InputNumber
              key={name}
              size="small"
              controls={false}
              aria-label={`Aim, m ${name}`}
              title={`m ${name}`}
              value={Number(aim[n].toFixed(2))}
              min={n === 2 ? 0.01 : -1e5}
              max={1e5}
              onChange={(v) => {
                if (v !== null) set(aim.map((old, i) => (i === n ? v : old)) as NonNullable<Aim>);
              }}
              onBlur={() => {
                store.getState().keep('Aim');
              }}
              onPressEnter={() => {
                store.getState().keep('Aim');
              }}
            />
          ))}
        </div>
      )}
    </>
  );
}
