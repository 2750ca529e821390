'use client';

import { Button, Select } from 'antd';
import { EASES, type Ease } from '@/core/time/ease';
import type { Footage } from '@/core/shot/document';
import { signed } from '../../numbers';
import { useRoom, useRoomStore } from '../../room/context';
import { FrameList } from '../../time/FrameList';
import { keepScript } from './keepScript';

const WORDS: Readonly<Record<(typeof EASES)[number], string>> = {
  linear: 'Even',
  gentle: 'Soft',
  settle: 'Settle',
  late: 'Late',
  early: 'Early',
  hold: 'Hold',
};

/** The depth script: how much depth there is over time. */
export function OverTime() {
  const store = useRoomStore();
  const footage = useRoom((s) => s.document.footage);
  const moment = useRoom((s) => s.moment);
  if (!footage) return null;
  const { script } = footage;
  const keep = (next: Footage['script'], label: string): void => {
    keepScript(store, next, label);
  };
  if (script.length === 0)
    return (
      <>
        <p className="ct-hint">
          One budget holds for all frames. With a <b>depth script</b> it changes over time: go to a frame, set the
          budget, and it is keyed there.
        </p>
        <Button
          block
          onClick={() => {
            const { document } = store.getState();
            keep([{ frame: 0, ease: 'gentle', budget: document.budget }], 'Begin a depth script');
          }}
        >
          Begin a depth script
        </Button>
      </>
    );
  const here = script.find(({ frame }) => frame === moment);
  return (
    <>
      <FrameList
        label="Keys of the depth script"
        frames={script.map(({ frame, budget }) => ({
          frame,
          says: `${signed(budget.nearPx, 1)} / ${signed(budget.farPx, 1)} px`,
        }))}
      />
      {here && script[script.length - 1] !== here && (
        <div className="ct-field ct-field-wide">
          <label htmlFor="script-ease">To the next</label>
          <Select<Ease & string>
            id="script-ease"
            value={typeof here.ease === 'string' ? here.ease : 'gentle'}
            options={EASES.map((value) => ({ value, label: WORDS[value] }))}
            onChange={(ease) => {
              keep(
                script.map((key) => (key === here ? { ...key, ease } : key)),
                'Ease of the depth script',
              );
            }}
          />
        </div>
      )}
      {!here && (
        <p className="ct-hint">
          Change the budget here, or drag its ends in the script, and frame {moment + 1} has a key of its own.
        </p>
      )}
      {here && (
        <Button
          block
          onClick={() => {
            keep(
              script.filter((key) => key !== here),
              `No script key at frame ${moment + 1}`,
            );
          }}
        >
          {script.length === 1 ? 'End the depth script' : `Take the key at frame ${moment + 1} off`}
        </Button>
      )}
    </>
  );
}
