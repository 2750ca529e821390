'use client';

import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { useParallaxNote } from './parallaxNote';
import { useDepth, useDepthStore } from './slice';

const HINTS = {
  line: 'Draw a line on the picture. A floor in perspective is such a ramp: begin at the horizon, end at the lower edge.',
  circle: 'Draw from the middle outwards: the same depth on circles around it.',
  reflected: 'Draw from the ridge to one side: the same on the other side.',
} as const;

/** Depth rising along a line, from a point, or to both sides. */
export function RampWay() {
  const store = useDepthStore();
  const ramp = useDepth((s) => s.ramp);
  const note = useParallaxNote();
  const set = (part: Partial<typeof ramp>): void => {
    store.getState().set({ ramp: { ...store.getState().ramp, ...part } });
  };
  return (
    <>
      <Choice
        label="Shape"
        value={ramp.shape ?? 'line'}
        onChange={(shape) => {
          set({ shape });
        }}
        options={[
          { value: 'line', label: 'Line' },
          { value: 'circle', label: 'Circle' },
          { value: 'reflected', label: 'Reflected' },
        ]}
      />
      <p className="ct-hint">{HINTS[ramp.shape ?? 'line']}</p>
      <Bead
        label="At its beginning"
        unit=""
        note={note(ramp.fromDepth)}
        value={ramp.fromDepth}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(fromDepth) => {
          set({ fromDepth });
        }}
      />
      <Bead
        label="At its end"
        unit=""
        note={note(ramp.toDepth)}
        value={ramp.toDepth}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        greys
        onTry={(toDepth) => {
          set({ toDepth });
        }}
      />
      <Choice
        label="Beyond the line"
        value={ramp.reach}
        onChange={(reach) => {
          set({ reach });
        }}
        options={[
          { value: 'everywhere', label: 'Goes on' },
          { value: 'between', label: 'Leave alone' },
        ]}
      />
      <Choice
        label="Where there is depth"
        value={ramp.against}
        onChange={(against) => {
          set({ against });
        }}
        options={[
          { value: 'replace', label: 'Replace' },
          { value: 'nearer', label: 'If nearer' },
          { value: 'farther', label: 'If farther' },
        ]}
      />
    </>
  );
}
