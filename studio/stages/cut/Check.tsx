'use client';

import { ColorPicker } from 'antd';
import { useEffect, useState } from 'react';
import type { CutFound } from '@/compute/cutting';
import { GROUNDS, type Check as CheckSettings, type Ground } from '@/compute/draw/ground';
import { figure } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { Choice as Words } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';

const SPECK_PX = 60;
const WORDS: Record<Ground, string> = {
  black: 'Black',
  white: 'White',
  grey: 'Grey',
  checks: 'Checks',
  matte: 'Matte',
  colour: 'Colour',
  behind: 'Behind',
};

/** The cut alone on other grounds, and what is counted in it. */
export function Check() {
  const store = useRoomStore();
  const check = useRoom((s) => s.check);
  const preview = useRoom((s) => s.preview);
  const spare = useRoom((s) => s.spare);
  const solving = useRoom((s) => s.solving);
  const choice = useRoom((s) => s.choice);
  const active = useRoom((s) => s.active);
  const plates = useRoom((s) => s.document.plates);
  const width = useRoom((s) => s.document.source.width);
  const [found, setFound] = useState<CutFound | undefined>();
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      const chosen = { choice: choice.ingredients.length > 0 ? choice : undefined, spare, active };
      void preview?.inspect(chosen, SPECK_PX).then((n) => {
        if (!gone) setFound(n);
      });
    }, 250);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [preview, spare, choice, active, plates, solving]);
  const set = (part: Partial<CheckSettings>): void => {
    store.getState().set({ check: { ...check, ...part } });
  };
  if (choice.ingredients.length === 0 && !plates.some((p) => p.id === active && p.matte !== null))
    return <p className="ct-hint">Choose something, or click a plate’s card: it is shown here alone.</p>;
  return (
    <>
      <p className="ct-hint">
        Stray pixels hide on the wrong ground: look at the cut on each. Edge colours are cleaned, as in the views.
      </p>
      <Words<Ground>
        label="On"
        value={check.ground}
        onChange={(ground) => {
          set({ ground });
        }}
        options={GROUNDS.map((value) => ({ value, label: WORDS[value] }))}
      />
      {check.ground === 'colour' && (
        <label className="ct-switch-row">
          <ColorPicker
            size="small"
            disabledAlpha
            value={check.colour}
            onChange={(c) => {
              set({ colour: c.toHexString().slice(0, 7) });
            }}
          />{' '}
          The ground’s colour
        </label>
      )}
      {check.ground === 'behind' && (
        <Bead
          label="What lies behind, shifted by"
          unit="px"
          value={check.shiftPx}
          min={-Math.round(width / 12)}
          max={Math.round(width / 12)}
          step={1}
          onTry={(shiftPx) => {
            set({ shiftPx });
          }}
        />
      )}
      <SwitchRow
        label="Mark rims of the old background"
        checked={check.rim}
        onChange={(rim) => {
          set({ rim });
        }}
      >
        Mark rims of the old background
      </SwitchRow>
      {found && (
        <>
          <p className={found.specks > 0 ? 'ct-hint ct-warn' : 'ct-hint'}>
            {found.specks > 0 ? (
              <>
                <b>
                  {figure(found.specks)} {found.specks === 1 ? 'speck' : 'specks'}
                </b>{' '}
                smaller than {SPECK_PX} px. Drop them under Edge.
              </>
            ) : (
              <>No specks smaller than {SPECK_PX} px.</>
            )}
          </p>
          <p className={found.rim > 0.02 * found.edge ? 'ct-hint ct-warn' : 'ct-hint'}>
            {found.rim > 0.02 * found.edge ? (
              <>
                <b>{figure(Math.round((100 * found.rim) / found.edge))} % of the edge</b> shows the old background. Push
                the edge in, or solve it, under Edge.
              </>
            ) : (
              'The edge shows nothing of the old background.'
            )}
          </p>
        </>
      )}
    </>
  );
}
