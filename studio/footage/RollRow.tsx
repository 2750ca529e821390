'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { figure } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import type { RollMode } from './film';
import { useFilm } from './FilmContext';

const MODES: readonly (readonly [RollMode, string])[] = [
  ['once', 'once'],
  ['loop', 'loop'],
  ['there-and-back', 'there and back'],
];

/** Over the strip: play, the frame and its time, and how it goes on at the end. */
export function RollRow() {
  const store = useRoomStore();
  const film = useFilm();
  const rolls = useRoom((s) => s.rolls);
  const [mode, setMode] = useState<RollMode>(film?.mode ?? 'loop');
  return (
    <>
      <Button
        type="primary"
        className="ct-play"
        onClick={() => {
          store.getState().roll(!rolls);
        }}
      >
        {rolls ? 'Pause' : 'Play'}
      </Button>
      <Where />
      <button
        type="button"
        className="ct-shown-step"
        aria-label="Another way at the end"
        title="Another way at the end"
        onClick={() => {
          const next = MODES[(MODES.findIndex(([key]) => key === mode) + 1) % MODES.length][0];
          setMode(next);
          if (film) film.mode = next;
        }}
      >
        {MODES.find(([key]) => key === mode)?.[1]}
      </button>
    </>
  );
}

function Where() {
  const moment = useRoom((s) => s.moment);
  const footage = useRoom((s) => s.document.footage);
  if (!footage) return null;
  const { numerator, denominator } = footage.rate;
  return (
    <>
      <span className="ct-where">
        <b data-testid="moment">{moment + 1}</b> of {footage.frames}
      </span>
      <span className="ct-where">
        <b>{figure((moment * denominator) / numerator, 2)}</b> s
      </span>
    </>
  );
}
