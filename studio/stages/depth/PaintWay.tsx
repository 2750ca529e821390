'use client';

import { Bead } from '../../parts/Bead';
import { BrushBeads } from '../../parts/BrushBeads';
import { Choice } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { useParallaxNote } from './parallaxNote';
import { hasEdges, targetOf, useDepth, useDepthStore } from './slice';

/** Ways of the brush that change depth by so much. */
const CHANGES: ReadonlySet<string> = new Set(['nearer', 'farther', 'uneven']);

/** The depth brush. */
export function PaintWay() {
  const store = useDepthStore();
  const brush = useDepth((s) => s.brush);
  const source = useDepth((s) => s.document.source);
  const note = useParallaxNote();
  const set = (part: Partial<typeof brush>): void => {
    store.getState().set({ brush: { ...store.getState().brush, ...part } });
  };
  const by = CHANGES.has(brush.mode);
  const edges = useDepth((s) => hasEdges(s, targetOf(s)));
  const { edge = 0 } = brush;
  return (
    <>
      <Choice
        label="Way of the brush"
        value={brush.mode}
        onChange={(mode) => {
          set({
            mode,
            ...(CHANGES.has(mode) && !by && { depth: 0.05 }),
            ...(mode === 'set' && by && { depth: 0.7 }),
          });
        }}
        options={[
          { value: 'set', label: 'Set' },
          { value: 'nearer', label: 'Nearer' },
          { value: 'farther', label: 'Farther' },
          { value: 'smooth', label: 'Smooth' },
          { value: 'push', label: 'Push' },
          { value: 'uneven', label: 'Uneven' },
        ]}
      />
      {brush.mode !== 'smooth' && brush.mode !== 'push' && (
        <Bead
          label={by ? 'By' : 'Depth'}
          unit=""
          note={by ? '' : note(brush.depth)}
          value={brush.depth}
          min={0}
          max={1}
          step={0.01}
          decimals={2}
          greys={!by}
          onTry={(depth) => {
            set({ depth });
          }}
        />
      )}
      <BrushBeads brush={brush} most={Math.min(4000, Math.max(source.width, source.height))} onTry={set} />
      {brush.mode === 'uneven' && (
        <Bead
          label="Bumps every"
          unit="px"
          value={brush.grain ?? 24}
          min={2}
          max={300}
          step={1}
          onTry={(grain) => {
            set({ grain });
          }}
        />
      )}
      {brush.mode !== 'push' && edges && (
        <SwitchRow
          label="Stopped by the picture’s edges"
          checked={edge > 0}
          onChange={(stops) => {
            set({ edge: stops ? 40 : 0 });
          }}
        >
          {brush.mode === 'smooth' ? 'Keeps the picture’s edges' : 'Stopped by the picture’s edges'}
        </SwitchRow>
      )}
      {brush.mode !== 'push' && edges && edge > 0 && (
        <Bead
          label="An edge from"
          unit="steps"
          value={edge}
          min={8}
          max={200}
          step={1}
          onTry={(v) => {
            set({ edge: v });
          }}
        />
      )}
      <Choice
        label="Pen pressure sets"
        value={brush.pressure}
        onChange={(pressure) => {
          set({ pressure });
        }}
        options={[
          { value: 'none', label: 'Nothing' },
          { value: 'strength', label: 'Strength' },
          { value: 'size', label: 'Size' },
        ]}
      />
    </>
  );
}
