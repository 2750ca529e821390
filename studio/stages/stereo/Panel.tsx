'use client';

import { Button, InputNumber, Select } from 'antd';
import { depthOf } from '@/core/stereo/parallax';
import { comfortPx, fitIntoComfort } from '@/core/stereo/units';
import { figure, signed } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import type { WayOfWorking } from '../../parts/Ways';
import { useRoom, useRoomStore } from '../../room/context';
import { OverTime } from './OverTime';
import { SwitchRow } from '../../parts/SwitchRow';
import { handedSize, type ShotDocument } from '@/core/shot/document';

/** Screens that occur often, as a beginning; sizes are the visible width. */
const SCREENS: readonly Omit<ShotDocument['viewing'], 'comfortArcmin'>[] = [
  { name: 'Desk screen 24 in', widthMm: 518.4, distanceMm: 650, eyesMm: 65 },
  { name: 'Room screen 55 in', widthMm: 1209.6, distanceMm: 2200, eyesMm: 65 },
  { name: 'Hall screen 6 m', widthMm: 6000, distanceMm: 9000, eyesMm: 65 },
  { name: 'Print 200 mm wide', widthMm: 200, distanceMm: 400, eyesMm: 65 },
];
const SOURCE_EYE = {
  left: 'Only the right view is made; the source is the left one.',
  centre: 'Left and right both move.',
  right: 'Only the left view is made; the source is the right one.',
} as const;

export const WAYS: readonly WayOfWorking[] = [
  { key: 'budget', name: 'Budget', does: 'all depth, screen plane', Way: BudgetOptions },
  { key: 'over-time', name: 'Over time', does: 'a depth script', Way: OverTime, moving: true },
  { key: 'eyes', name: 'Eyes', does: 'which view the source is', Way: Eyes },
  { key: 'edges', name: 'Edges', does: 'where the picture tears', Way: Edges },
  { key: 'seen-on', name: 'Seen on', does: 'screen, distance, comfort', Way: SeenOn },
];

/** How far in front of and behind the screen, for which screen; which view the source stands for; how edges part. */
export function Head() {
  const sourceEye = useRoom((s) => s.document.sourceEye);
  return (
    <div className="ct-stage-head">
      <h1>Stereo</h1>
      <p>
        Source eye <b>{sourceEye}</b>. {SOURCE_EYE[sourceEye]}
      </p>
    </div>
  );
}

function BudgetOptions() {
  const store = useRoomStore();
  const room = store.getState();
  const document = useRoom((s) => s.document);
  const { budget, viewing } = document;
  const across = handedSize(document).width;
  const all = budget.farPx - budget.nearPx;
  const plane = depthOf(0, budget);
  const round = (v: number): number => Math.round(v * 10) / 10;
  const most = Math.max(20, Math.round(across * 0.12));
  const comfort = comfortPx(across, viewing);
  const beyond = budget.nearPx < comfort.nearPx - 0.05 || budget.farPx > comfort.farPx + 0.05;
  const keepPlane = (nextAll: number): void => {
    const at = Number.isFinite(plane) ? plane : 0.5;
    room.try({ budget: { nearPx: round(-(1 - at) * nextAll), farPx: round(at * nextAll) } });
  };
  return (
    <>
      <Bead
        label="All depth"
        unit="px"
        value={all}
        min={0}
        max={most}
        step={0.1}
        decimals={1}
        onTry={keepPlane}
        onKeep={() => {
          const { nearPx, farPx } = store.getState().document.budget;
          room.keep(`All depth ${round(farPx - nearPx)} px`);
        }}
      />
      <Bead
        label="Screen plane"
        unit="depth"
        value={Number.isFinite(plane) ? plane : 0}
        min={0}
        max={1}
        step={0.01}
        decimals={2}
        onTry={(at) => {
          room.try({ budget: { nearPx: round(-(1 - at) * all), farPx: round(at * all) } });
        }}
        onKeep={() => {
          room.keep('Screen plane');
        }}
      />
      <p className={beyond ? 'ct-hint ct-warn' : 'ct-hint'}>
        {beyond ? (
          <>
            <b>Outside comfort</b> on {viewing.name}: {signed(comfort.nearPx, 1)} to {signed(comfort.farPx, 1)} px are
            comfortable.
          </>
        ) : (
          <>
            Comfortable on {viewing.name}: {signed(comfort.nearPx, 1)} to {signed(comfort.farPx, 1)} px.
          </>
        )}
      </p>
      <Button
        block
        disabled={!beyond}
        onClick={() => {
          room.change('Fit into comfort', { budget: fitIntoComfort(budget, across, viewing) });
        }}
      >
        Fit into comfort
      </Button>
    </>
  );
}

function Eyes() {
  const room = useRoomStore().getState();
  const { sourceEye, swapEyes } = useRoom((s) => s.document);
  return (
    <>
      <Choice
        label="The source is the"
        value={sourceEye}
        onChange={(eye) => {
          room.change(`Source eye ${eye}`, { sourceEye: eye });
        }}
        options={[
          { value: 'left', label: 'Left' },
          { value: 'centre', label: 'Centre' },
          { value: 'right', label: 'Right' },
        ]}
      />
      <SwitchRow
        label="Swap eyes"
        checked={swapEyes}
        onChange={(v) => {
          room.change(v ? 'Swap eyes' : 'Eyes as they are', { swapEyes: v });
        }}
      >
        Swap left and right
      </SwitchRow>
      <p className="ct-hint">
        Swapping exchanges the two views everywhere, also in what is handed over. Depth then stands inside out unless
        the glasses or the viewer are turned round too.
      </p>
    </>
  );
}

function Edges() {
  const store = useRoomStore();
  const room = store.getState();
  const tear = useRoom((s) => s.document.tearPx);
  const share = useRoom((s) => s.revealedShare);
  const mark = useRoom((s) => s.markReveal);
  const part = useRoom((s) => s.document.partEdges);
  return (
    <>
      <p className="ct-hint">
        Where neighbours differ by more parallax than this, the picture tears, and the gap is filled from the farther
        side. Below it, it stretches.
      </p>
      <Bead
        label="Tear limit"
        unit="px"
        value={tear}
        min={0.25}
        max={50}
        step={0.25}
        decimals={2}
        logarithmic
        onTry={(tearPx) => {
          room.try({ tearPx: Math.max(0.25, tearPx) });
        }}
        onKeep={() => {
          room.keep(`Tear limit ${store.getState().document.tearPx} px`);
        }}
      />
      <SwitchRow
        label="Part mixed edges"
        checked={part}
        onChange={(v) => {
          room.change(v ? 'Part mixed edges' : 'Leave edges mixed', { partEdges: v });
        }}
      >
        Part mixed edges
      </SwitchRow>
      <p className="ct-hint">
        Pixels at a tear show both sides. Parted, the nearer side keeps a soft edge and the farther one its colour; else
        they go with the nearer side, rims and all.
      </p>
      <p className="ct-hint">
        Revealed: <b>{share < 0 ? '…' : `${figure(share * 100, 2)} %`}</b> of a view’s pixels.
      </p>
      <SwitchRow
        label="Mark revealed pixels"
        checked={mark}
        onChange={(v) => {
          store.getState().set({ markReveal: v });
        }}
      >
        Mark them in the eyes’ views
      </SwitchRow>
    </>
  );
}

function SeenOn() {
  const room = useRoomStore().getState();
  const viewing = useRoom((s) => s.document.viewing);
  const field = (
    label: string,
    unit: string,
    key: 'widthMm' | 'distanceMm' | 'eyesMm' | 'comfortArcmin',
    [min, max]: readonly [number, number],
  ) => (
    <div className="ct-field">
      <label htmlFor={`seen-${key}`}>{label}</label>
      <InputNumber
        id={`seen-${key}`}
        value={viewing[key]}
        min={min}
        max={max}
        suffix={unit}
        controls={false}
        onChange={(v) => {
          if (v !== null) room.try({ viewing: { ...viewing, [key]: v } });
        }}
        onBlur={() => {
          room.keep(label);
        }}
        onPressEnter={() => {
          room.keep(label);
        }}
      />
    </div>
  );
  return (
    <>
      <Select
        aria-label="Screen or sheet"
        value={viewing.name}
        style={{ width: '100%' }}
        options={[
          ...SCREENS.map((s) => ({ value: s.name, label: s.name })),
          ...(SCREENS.some((s) => s.name === viewing.name) ? [] : [{ value: viewing.name, label: viewing.name }]),
        ]}
        onChange={(name) => {
          const screen = SCREENS.find((s) => s.name === name);
          if (screen) room.change(`Seen on ${name}`, { viewing: { ...screen, comfortArcmin: viewing.comfortArcmin } });
        }}
      />
      {field('Width', 'mm', 'widthMm', [20, 40000])}
      {field('Seen from', 'mm', 'distanceMm', [50, 100000])}
      {field('Eyes apart', 'mm', 'eyesMm', [40, 80])}
      {field('Comfort limit', 'arcmin', 'comfortArcmin', [5, 240])}
    </>
  );
}
