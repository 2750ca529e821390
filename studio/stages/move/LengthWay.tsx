'use client';

import { Select } from 'antd';
import { stretchedKeys } from '@/core/camera/editKeys';
import { rateOf, secondsOf } from '@/core/time/rate';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { beginMove, useMove, useMoveStore } from './slice';

const RATES = [12, 15, 23.976, 24, 25, 29.97, 30, 48, 50, 59.94, 60];

/** How long the move takes, and how it goes from bead to bead. */
export function LengthWay() {
  const store = useMoveStore();
  const document = useMove((s) => s.document);
  const move = document.move ?? beginMove(document);
  const { tryMove, keep, seek } = store.getState();
  /** The same way in another number of frames. */
  const stretch = (frames: number, fps: number): void => {
    const now = store.getState().document.move ?? beginMove(store.getState().document);
    tryMove({
      fps,
      frames,
      keys: stretchedKeys(now.keys, now.frames, frames),
      range: null,
      ready: now.ready,
    });
    seek(store.getState().needle);
  };
  const framesOf = (seconds: number, fps: number): number => {
    const { numerator, denominator } = rateOf(fps);
    return Math.max(2, Math.min(3600, Math.round((seconds * numerator) / denominator)));
  };
  const seconds = secondsOf(move.frames, move.fps);
  return (
    <>
      <Bead
        label="Length"
        unit="s"
        value={seconds}
        min={1}
        max={60}
        step={0.1}
        decimals={1}
        logarithmic
        note={`(${move.frames} frames)`}
        onTry={(v) => {
          stretch(framesOf(v, move.fps), move.fps);
        }}
        onKeep={() => {
          keep('Length of the move');
        }}
      />
      <div className="ct-field">
        <span>Frames a second</span>
        <Select
          size="small"
          aria-label="Frames a second"
          value={move.fps}
          options={RATES.map((value) => ({ value, label: String(value) }))}
          onChange={(fps) => {
            stretch(framesOf(seconds, fps), fps);
            keep(`${fps} frames a second`);
          }}
        />
      </div>
      <Choice
        label="Way from bead to bead"
        value={move.path}
        options={[
          { value: 'straight', label: 'Straight' },
          { value: 'smooth', label: 'Smooth' },
        ]}
        onChange={(path) => {
          tryMove({ path, ready: move.ready });
          keep(`${path} way`);
        }}
      />
      <Choice
        label="Speed"
        value={move.pace}
        options={[
          { value: 'keys', label: 'By beads' },
          { value: 'even', label: 'One speed' },
        ]}
        onChange={(pace) => {
          tryMove({ pace, ready: move.ready });
          keep(pace === 'even' ? 'One speed' : 'Speed by the beads');
        }}
      />
    </>
  );
}
