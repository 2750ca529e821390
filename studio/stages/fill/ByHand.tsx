'use client';

import { Button, Modal } from 'antd';
import { useState } from 'react';
import { Bead } from '../../parts/Bead';
import { BrushBeads } from '../../parts/BrushBeads';
import { Choice } from '../../parts/Choice';
import { HeldStrokes } from './HeldStrokes';
import { useFill as useRoom, useFillStore as useRoomStore } from './slice';
import { SwitchRow } from '../../parts/SwitchRow';
import { Underway } from '../../parts/Underway';
import type { Hand } from './slice';

function useHand(): { hand: Hand; set(part: Partial<Hand>): void; width: number } {
  const store = useRoomStore();
  const hand = useRoom((s) => s.hand);
  const width = useRoom((s) => s.document.source.width);
  return {
    hand,
    width,
    set: (part) => {
      store.getState().set({ hand: { ...store.getState().hand, ...part } });
    },
  };
}

function Brush({ strength = true }: { strength?: boolean }) {
  const { hand, set, width } = useHand();
  return <BrushBeads brush={hand} most={Math.max(20, Math.round(width / 4))} strength={strength} onTry={set} />;
}

function Seamless() {
  const { hand, set } = useHand();
  return (
    <SwitchRow
      label="Seamless"
      checked={hand.seamless}
      onChange={(seamless) => {
        set({ seamless });
      }}
    >
      Seamless: match where it lands
    </SwitchRow>
  );
}

/** Landing outside what is hidden paints on the picture itself: that is asked first. */
function Beyond() {
  const { hand, set } = useHand();
  const [asking, setAsking] = useState(false);
  return (
    <>
      <SwitchRow
        label="Also on the picture itself"
        checked={hand.beyond}
        onChange={(on) => {
          if (on) setAsking(true);
          else set({ beyond: false });
        }}
      >
        Also on the picture itself
      </SwitchRow>
      <Modal
        title="Paint on the picture itself?"
        open={asking}
        okText="Paint on it"
        cancelText="Only what is hidden"
        width={380}
        onCancel={() => {
          setAsking(false);
        }}
        onOk={() => {
          setAsking(false);
          set({ beyond: true });
        }}
        destroyOnHidden
      >
        <p className="ct-hint">
          Strokes then land outside what nearer plates hide too, so that the source’s own view changes. The source file
          stays as it is, and undo takes every stroke back.
        </p>
      </Modal>
    </>
  );
}

function Clone() {
  const { hand, set, width } = useHand();
  const near = hand.sources.some((s) => Math.hypot(s.dx, s.dy) < 2 * hand.size);
  return (
    <>
      <p className="ct-hint">
        {hand.picked.length === 0 ? (
          <b>Alt and a click picks where to copy from; more clicks with Alt and Shift add sources in turn.</b>
        ) : (
          `${hand.picked.length} ${hand.picked.length === 1 ? 'source' : 'sources in turn'}. Alt and a click picks anew.`
        )}
      </p>
      {near && (
        <p className="ct-hint ct-warn">
          <b>The source is near:</b> its pattern will repeat. Pick it from afar, or add jitter.
        </p>
      )}
      <Brush />
      <SwitchRow
        label="Source follows the brush"
        checked={hand.follows}
        onChange={(follows) => {
          set({ follows, sources: [] });
        }}
      >
        Source follows from stroke to stroke
      </SwitchRow>
      <Bead
        label="Jitter of the source"
        unit="px"
        value={hand.jitter}
        min={0}
        max={Math.round(width / 20)}
        step={1}
        onTry={(jitter) => {
          set({ jitter });
        }}
      />
      <Bead
        label="Scale"
        unit="%"
        value={hand.scale * 100}
        min={25}
        max={400}
        step={1}
        logarithmic
        onTry={(v) => {
          set({ scale: Math.min(10, Math.max(0.1, v / 100)) });
        }}
      />
      <Bead
        label="Turn"
        unit="°"
        value={hand.turn}
        min={-180}
        max={180}
        step={1}
        onTry={(turn) => {
          set({ turn });
        }}
      />
      <SwitchRow
        label="Flip"
        checked={hand.flip}
        onChange={(flip) => {
          set({ flip });
        }}
      >
        Flip
      </SwitchRow>
      <Seamless />
      <Beyond />
    </>
  );
}

function Copy() {
  const { hand, set } = useHand();
  return (
    <>
      <p className="ct-hint">
        Draw around a good piece. Then drag it to where it belongs, its corners for scale, turn and perspective. Enter
        or a double click lays it down.
      </p>
      <Bead
        label="Soft edge"
        unit="px"
        value={hand.soft}
        min={0}
        max={60}
        step={0.5}
        decimals={1}
        onTry={(soft) => {
          set({ soft });
        }}
      />
      <Seamless />
      <Beyond />
    </>
  );
}

function Line() {
  const { hand, set, width } = useHand();
  const isLine = hand.stroke === 'line';
  return (
    <>
      <Choice<Hand['stroke']>
        label="A stroke is"
        value={hand.stroke}
        onChange={(stroke) => {
          set({ stroke });
        }}
        options={[
          { value: 'line', label: 'Line' },
          { value: 'border', label: 'Border' },
        ]}
      />
      <Choice<'straight' | 'by-hand'>
        label="Drawn"
        value={hand.straight ? 'straight' : 'by-hand'}
        onChange={(drawn) => {
          set({ straight: drawn === 'straight' });
        }}
        options={[
          { value: 'straight', label: 'Straight' },
          { value: 'by-hand', label: 'By hand' },
        ]}
      />
      <p className="ct-hint">
        {isLine
          ? 'Drag from where a bar or an edge is known to where it goes on, ' +
            `${hand.straight ? 'straight across the hole' : 'along its bends'}.`
          : 'Drag along where two grounds meet behind the hole. ' +
            'Within reach each side is filled anew as if the other were not there.'}
      </p>
      <Bead
        label={isLine ? 'Width' : 'Reach to each side'}
        unit="px"
        value={hand.lineWidth}
        min={2}
        max={Math.max(20, Math.round(width / 5))}
        step={1}
        logarithmic
        onTry={(v) => {
          set({ lineWidth: Math.max(2, v) });
        }}
      />
      {isLine && !hand.beyond && (
        <SwitchRow
          label="Fill anew beside it"
          checked={hand.besideAnew}
          onChange={(besideAnew) => {
            set({ besideAnew });
          }}
        >
          Fill anew what lies beside it
        </SwitchRow>
      )}
      <Underway of="fill" />
      {isLine && <Beyond />}
      <HeldStrokes />
    </>
  );
}

function Erase() {
  const store = useRoomStore();
  const active = useRoom((s) => s.active);
  const fill = useRoom((s) =>
    s.active === null ? s.document.fill : (s.document.plates.find((p) => p.id === s.active)?.fill ?? null),
  );
  return (
    <>
      <p className="ct-hint">
        {fill === null
          ? 'Nothing is filled here yet.'
          : 'Strokes take filling back; what lies behind is then smooth again.'}
      </p>
      <Brush />
      <Button
        block
        disabled={fill === null}
        onClick={() => {
          store.getState().fillBy('Throw the fill away', { action: 'clear', plate: active });
        }}
      >
        Throw this fill away
      </Button>
    </>
  );
}

/** Filling by hand. */
export const ByHand = { Clone, Copy, Line, Erase };
