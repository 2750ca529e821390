'use client';

import { Button } from 'antd';
import { useEffect } from 'react';
import { secondsOf } from '@/core/time/rate';
import { rangeOf, type MovePart } from '@/core/shot/document';
import { figure } from '../../numbers';
import { Player } from './player';
import { followRest } from './rest';
import { Watch } from './watch';
import { useMove, useMoveStore } from './slice';

const MODES: readonly (readonly [MovePart['play'], string])[] = [
  ['once', 'once'],
  ['loop', 'loop'],
  ['there-and-back', 'there and back'],
];

/** Over the strip: play, the frame and its time, and how it goes on at the end. */
export function PlayRow() {
  const store = useMoveStore();
  const move = useMove((s) => s.document.move);
  const playing = useMove((s) => s.playing);
  useEffect(() => {
    const player = new Player(store);
    const watch = new Watch(store);
    const restless = followRest(store);
    return () => {
      restless();
      watch.end();
      player.end();
    };
  }, [store]);
  return (
    <>
      <Button
        type="primary"
        className="ct-play"
        disabled={!move}
        onClick={() => {
          store.getState().play(!playing);
        }}
      >
        {playing ? 'Pause' : 'Play'}
      </Button>
      {move && (
        <>
          <Where move={move} />
          <span className="ct-modes" role="radiogroup" aria-label="At the end">
            {MODES.map(([mode, word]) => (
              <button
                key={mode}
                type="button"
                role="radio"
                aria-checked={move.play === mode}
                className={move.play === mode ? 'on' : ''}
                onClick={() => {
                  const { tryMove, keep } = store.getState();
                  tryMove({ play: mode });
                  keep(`Play ${word}`);
                }}
              >
                {word}
              </button>
            ))}
          </span>
          <Memory move={move} />
        </>
      )}
    </>
  );
}

function Where({ move }: { move: MovePart }) {
  // An undo may have made the move shorter.
  const needle = Math.min(
    useMove((s) => s.needle),
    move.frames - 1,
  );
  return (
    <>
      <span className="ct-where">
        <b data-testid="frame">{needle + 1}</b> of {move.frames}
      </span>
      <span className="ct-where">
        <b>{figure(secondsOf(needle, move.fps), 2)}</b> s
      </span>
    </>
  );
}

/** How far rendering ahead has come. */
function Memory({ move }: { move: MovePart }) {
  const held = useMove((s) => s.inMemory);
  const { first, last } = rangeOf(move);
  const all = last - first + 1;
  return (
    <span data-testid="in-memory">
      {move.fps} frames/s{held >= all && ', all in memory'}
      {held > 0 && held < all && `, ${held} in memory`}
    </span>
  );
}
