'use client';

import { Button } from 'antd';
import { useEffect } from 'react';
import { parallaxOf } from '@/core/stereo/parallax';
import { figure, signed } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { FLAT, FROM_THE_FRONT, FROM_THE_SIDE, type ReliefPart } from './relief';
import { useDepth, useDepthStore } from './slice';

/** Spikes are looked for once a hand has rested so long, ms. */
const REST_MS = 250;
/** So many are listed, and marked on the surface. */
const LISTED = 9;

/** The map as a surface from the side, with what stands out of it. */
export function ReliefWay() {
  const store = useDepthStore();
  const relief = useDepth((s) => s.relief);
  const { pose } = relief;
  useFinding();
  const set = (part: Partial<ReliefPart>): void => {
    const s = store.getState();
    s.set({ relief: { ...s.relief, ...part } });
  };
  const front = pose.turnedDeg === 0 && pose.tippedDeg === 0;
  return (
    <>
      <p className="ct-hint">
        The picture as a surface. Drag on it to turn it: spikes and flat cut-outs show from the side.
      </p>
      <Bead
        label="Turned"
        unit="deg"
        value={pose.turnedDeg}
        {...{ min: -85, max: 85, step: 1 }}
        onTry={(turnedDeg) => {
          set({ pose: { ...pose, turnedDeg } });
        }}
      />
      <Bead
        label="Tipped"
        unit="deg"
        value={pose.tippedDeg}
        {...{ min: -75, max: 75, step: 1 }}
        onTry={(tippedDeg) => {
          set({ pose: { ...pose, tippedDeg } });
        }}
      />
      <Bead
        label="Depth"
        unit="times"
        value={pose.stretch}
        {...{ min: 0.1, max: 3, step: 0.05, decimals: 2 }}
        onTry={(stretch) => {
          set({ pose: { ...pose, stretch } });
        }}
      />
      <Button
        block
        size="small"
        onClick={() => {
          set({ pose: { ...(front ? FROM_THE_SIDE : FROM_THE_FRONT), stretch: pose.stretch } });
        }}
      >
        {front ? 'From the side' : 'From the front'}
      </Button>
      <Bead
        label="A spike stands out by"
        unit=""
        value={relief.by}
        {...{ min: 0.02, max: 0.5, step: 0.01, decimals: 2 }}
        onTry={(by) => {
          set({ by });
        }}
      />
      <Bead
        label="and is narrower than"
        unit="px"
        value={relief.wide}
        {...{ min: 2, max: 24, step: 1 }}
        onTry={(wide) => {
          set({ wide });
        }}
      />
      <Spikes relief={relief} set={set} />
      <Flat plates={relief.flat} />
    </>
  );
}

/** Looks for spikes and flat plates in what the preview holds. */
function useFinding(): void {
  const store = useDepthStore();
  const preview = useDepth((s) => s.preview);
  const active = useDepth((s) => s.active);
  const tickets = useDepth((s) => `${s.rasterTicket} ${s.trialTicket}`);
  const { by, wide } = useDepth((s) => s.relief);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      void Promise.all([preview?.spikes(active, { by, wide }), preview?.bodies()]).then(([spikes, bodies]) => {
        if (gone) return;
        const s = store.getState();
        const flat = (bodies ?? []).filter(({ span }) => span < FLAT).map(({ plate }) => plate);
        s.set({ relief: { ...s.relief, spikes: spikes ?? [], flat, chosen: undefined } });
      });
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, preview, active, tickets, by, wide]);
}

function Spikes({ relief, set }: { relief: ReliefPart; set(part: Partial<ReliefPart>): void }) {
  const store = useDepthStore();
  const { budget, depth, plates } = useDepth((s) => s.document);
  const active = useDepth((s) => s.active);
  const { spikes, chosen, by, wide } = relief;
  if (!spikes) return <p className="ct-hint">Spikes are looked for.</p>;
  if (spikes.length === 0)
    return (
      <p className="ct-hint">
        <b>No spikes:</b> what stands out is wide, or the picture has it, too.
      </p>
    );
  const span = plates.find((p) => p.id === active)?.depth ?? depth;
  const flatten = (which: readonly { x: number; y: number }[] | undefined): void => {
    const at = which?.map(({ x, y }) => ({ x, y }));
    void store.getState().make({ kind: 'flatten', by, wide, ...(at ? { at } : {}) });
  };
  return (
    <>
      <ul className="ct-ingredients ct-faults" aria-label="Spikes">
        {spikes.slice(0, LISTED).map((spike, n) => (
          <li key={`${spike.x} ${spike.y}`} className={chosen === n ? 'on' : ''}>
            <span className="ct-fault-letter" aria-hidden>
              {n + 1}
            </span>
            <button
              type="button"
              className="ct-spike"
              aria-label={`Show spike ${n + 1}`}
              onClick={() => {
                set({ chosen: n, row: spike.y / store.getState().document.source.height });
              }}
            >
              <b>{figure(spike.depth, 2)}</b>{' '}
              {signed(parallaxOf(span.far + (span.near - span.far) * spike.depth, budget), 1)} px
              <small>
                around it {figure(spike.around, 2)}, {figure(spike.wide)} px wide
              </small>
            </button>
            <button
              type="button"
              aria-label={`Flatten spike ${n + 1}`}
              onClick={() => {
                flatten([spike]);
              }}
            >
              Flatten
            </button>
          </li>
        ))}
      </ul>
      <Button
        block
        onClick={() => {
          flatten(undefined);
        }}
      >
        Flatten {spikes.length === 1 ? 'it' : `all ${spikes.length}`}
      </Button>
    </>
  );
}

/** Plates that are cut-outs of card, with what gives them a body. */
function Flat({ plates }: { plates: readonly string[] }) {
  const store = useDepthStore();
  const known = useDepth((s) => s.document.plates);
  const flat = known.filter(({ id }) => plates.includes(id));
  if (flat.length === 0) return null;
  return (
    <ul className="ct-ingredients ct-faults" aria-label="Flat cut-outs">
      {flat.map(({ id, name }) => (
        <li key={id}>
          <span>
            {name} is flat
            <small>a cut-out of card</small>
          </span>
          <button
            type="button"
            aria-label={`Round ${name}`}
            onClick={() => {
              const s = store.getState();
              s.set({
                active: id,
                opened: { ...s.opened, [s.stage]: 'shape' },
                shape: { ...s.shape, kind: 'round', where: 'all' },
                shaping: true,
              });
            }}
          >
            Round
          </button>
        </li>
      ))}
    </ul>
  );
}
