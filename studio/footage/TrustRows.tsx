'use client';

import { Slider } from 'antd';
import { figure } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { trustOf } from './trustOf';
import { unsureStretches } from './unsure';
import { ToFrame } from '../time/ToFrame';

/** How far what is carried is trusted: depth, or a plate. */
export function TrustRows({ plate }: { plate?: string }) {
  const store = useRoomStore();
  const trust = useRoom((s) => trustOf(s.footage, plate));
  const limit = useRoom((s) => s.trustLimit);
  const known = trust?.filter((v): v is number => v !== null) ?? [];
  if (!trust || known.length <= 1 || known.length < trust.length / 4) return null;
  const least = Math.min(...known);
  const at = trust.indexOf(least);
  const below = unsureStretches(trust, limit).reduce((n, { first, last }) => n + last - first + 1, 0);
  return (
    <>
      <label className="ct-trust-limit">
        <span>
          Trust limit <b>{figure(limit, 2)}</b>
        </span>
        <Slider
          min={0.3}
          max={0.98}
          step={0.01}
          value={limit}
          onChange={(v) => {
            store.getState().set({ trustLimit: v });
          }}
          tooltip={{ open: false }}
          ariaLabelForHandle="Trust limit"
        />
      </label>
      <dl className="ct-facts">
        <div>
          <dt>Least trust</dt>
          <dd>
            {figure(least, 2)} <ToFrame frame={at} word="at" />
          </dd>
        </div>
        <div>
          <dt>Below the limit</dt>
          <dd>
            {below} <span>of {trust.length} frames</span>
          </dd>
        </div>
      </dl>
    </>
  );
}
