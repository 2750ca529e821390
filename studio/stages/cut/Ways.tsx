'use client';

import { Button } from 'antd';
import { useState } from 'react';
import type { Grain } from '@/compute/cutting';
import { Bead } from '../../parts/Bead';
import { Choice as Words } from '../../parts/Choice';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';
import { changeFlood, heedDepth } from './choosing';
import { SwitchRow } from '../../parts/SwitchRow';
import { Joining } from './Joining';

const SHAPES = [
  { value: 'corners', label: 'Freely' },
  { value: 'curve', label: 'Curve' },
  { value: 'rectangle', label: 'Rectangle' },
  { value: 'ellipse', label: 'Ellipse' },
] as const;
const HINTS = {
  corners: 'Click corner after corner, or draw with the button held. A double click or Enter closes the outline.',
  curve: 'Press and draw a node’s handles out; a click alone sets a corner. A double click or Enter closes it.',
  rectangle: 'Drag from one corner to the opposite one.',
  ellipse: 'Drag from one corner to the opposite one.',
};

export function OutlineWay() {
  const store = useRoomStore();
  const shape = useRoom((s) => s.outlineShape);
  const any = useRoom((s) => s.choice.ingredients.some((i) => i.kind === 'outline' || i.kind === 'curve'));
  return (
    <>
      <Words<typeof shape>
        label="Drawn as"
        value={shape}
        onChange={(v) => {
          store.getState().set({ outlineShape: v });
        }}
        options={SHAPES}
      />
      <p className="ct-hint">{HINTS[shape]}</p>
      {any && (
        <p className="ct-hint">
          Corners of an outline can be dragged afterwards. A press on its line adds one, Alt and a click takes one out.
        </p>
      )}
      <Joining />
    </>
  );
}

export function TraceWay() {
  return (
    <>
      <p className="ct-hint">
        Click along the thing’s edge: the line follows the strongest edge in between. Backspace takes a place back, a
        double click or Enter closes the line.
      </p>
      <Joining />
    </>
  );
}

export function FloodWay() {
  const store = useRoomStore();
  const flood = useRoom((s) => s.flood);
  const change = (part: Partial<typeof flood>): void => {
    changeFlood(store.getState(), { ...flood, ...part });
  };
  return (
    <>
      <p className="ct-hint">Click a colour. The values below change the flood, also after the click.</p>
      <Joining />
      <Bead
        label="Tolerance"
        unit="of 255"
        value={flood.tolerance}
        min={0}
        max={255}
        step={1}
        onTry={(tolerance) => {
          change({ tolerance });
        }}
      />
      <Bead
        label="Seed’s area"
        unit="px"
        value={flood.reach * 2 + 1}
        min={1}
        max={41}
        step={2}
        onTry={(v) => {
          change({ reach: Math.round((v - 1) / 2) });
        }}
      />
      <SwitchRow
        label="Only what hangs together"
        checked={flood.connected}
        onChange={(connected) => {
          change({ connected });
        }}
      >
        Only what hangs together
      </SwitchRow>
    </>
  );
}

export function RegionWay() {
  const store = useRoomStore();
  const region = useRoom((s) => s.region);
  const width = useRoom((s) => s.document.source.width);
  const showsUnsure = useRoom((s) => s.showsUnsure);
  const flat = useRoom((s) => s.untouched);
  const byDepth = useRoom((s) => {
    const last = s.choice.ingredients[s.choice.ingredients.length - 1];
    return last?.kind === 'region' ? (last.byDepth ?? false) : s.region.byDepth;
  });
  const half = useRoom((s) => {
    const last = s.choice.ingredients[s.choice.ingredients.length - 1];
    return last?.kind === 'region' && new Set(last.strokes.map((m) => m.side)).size === 1
      ? last.strokes[0].side
      : undefined;
  });
  const set = (part: Partial<typeof region>): void => {
    store.getState().set({ region: { ...region, ...part } });
  };
  return (
    <>
      <p className="ct-hint">
        {half === undefined ? (
          'A few strokes on the thing, a few around it. Each new stroke corrects the choice.'
        ) : (
          <b>Now a stroke that says {half === 'in' ? 'out, beside the thing' : 'in, on the thing'}.</b>
        )}
      </p>
      <Words<'in' | 'out'>
        label="The stroke says"
        value={region.side}
        onChange={(side) => {
          set({ side });
        }}
        options={[
          { value: 'in', label: 'In' },
          { value: 'out', label: 'Out' },
        ]}
      />
      <Bead
        label="Size"
        unit="px"
        value={region.size}
        min={1}
        max={Math.max(20, Math.round(width / 6))}
        step={1}
        logarithmic
        onTry={(size) => {
          set({ size: Math.max(1, size) });
        }}
      />
      {!flat && (
        <SwitchRow
          label="Heed the depth map"
          checked={byDepth}
          onChange={(on) => {
            heedDepth(store.getState(), on);
          }}
        >
          Heed the depth map
        </SwitchRow>
      )}
      <SwitchRow
        label="Hatch where it is unsure"
        checked={showsUnsure}
        onChange={(on) => {
          store.getState().set({ showsUnsure: on });
        }}
      >
        Hatch where it is unsure
      </SwitchRow>
      {showsUnsure && (
        <p className="ct-hint">Hatched pieces would change sides if edges counted a little more or less.</p>
      )}
      <Joining />
    </>
  );
}

export function PiecesWay() {
  const store = useRoomStore();
  const grain = useRoom((s) => s.grain);
  return (
    <>
      <p className="ct-hint">
        The piece under the pen is outlined. A click takes it, dragging takes all that the pen runs over.
      </p>
      <Words<Grain>
        label="Pieces are"
        value={grain}
        onChange={(v) => {
          store.getState().set({ grain: v });
        }}
        options={[
          { value: 'fine', label: 'Fine' },
          { value: 'middle', label: 'Middle' },
          { value: 'coarse', label: 'Coarse' },
        ]}
      />
      <Joining />
    </>
  );
}

export function SliceWay() {
  const store = useRoomStore();
  const [ends, setEnds] = useState({ far: 0.6, near: 1 });
  const joining = useRoom((s) => s.joining);
  const change = (part: Partial<typeof ends>): void => {
    const next = { ...ends, ...part };
    setEnds(next);
    store.getState().choose({ kind: 'slice', way: joining, ...next }, true);
  };
  return (
    <>
      <p className="ct-hint">Chooses by the back plate’s depth map, both ends included.</p>
      <Joining />
      <Bead
        label="From"
        unit="depth"
        value={ends.far}
        min={0}
        max={1}
        step={0.005}
        decimals={3}
        greys
        onTry={(far) => {
          change({ far: Math.min(far, ends.near) });
        }}
      />
      <Bead
        label="To"
        unit="depth"
        value={ends.near}
        min={0}
        max={1}
        step={0.005}
        decimals={3}
        greys
        onTry={(near) => {
          change({ near: Math.max(near, ends.far) });
        }}
      />
      <Button
        block
        onClick={() => {
          change({});
        }}
      >
        Choose this slice
      </Button>
    </>
  );
}
