'use client';

import { Button, Input, Switch } from 'antd';
import { useEffect, useState } from 'react';
import { GROUNDS, type Ground } from '@/compute/ways';
import { PLAIN_EDGE, type Choice, type EdgeSettings, type Ingredient } from '@/core/matte/choice';
import type { WayToCombine } from '@/core/matte/combine';
import { figure } from '../numbers';
import { Bead } from '../parts/Bead';
import { Choice as Words } from '../parts/Choice';
import { Working } from '../parts/Working';
import { useRoom, useRoomStore } from '../room/context';
import { changeFlood } from '../viewer/chooseTool';

/** Choosing what becomes a plate, and cutting it. Nearest thing first. */
export function CutStage() {
  const store = useRoomStore();
  const opened = useRoom((s) => s.opened.cut);
  const open = (which: string): void => { store.getState().set({ opened: { ...store.getState().opened, cut: which } }); };
  return (
    <>
      <div className="ct-stage-head"><h1>Cut</h1><p>What the eye could look behind becomes a plate. Nearest thing first.</p></div>
      <Taking />
      <Working name="Outline" does="corners, or drawn freely" open={opened === 'outline'} onOpen={() => { open('outline'); }}><OutlineWay /></Working>
      <Working name="Flood" does="similar colour around a seed" open={opened === 'flood'} onOpen={() => { open('flood'); }}><FloodWay /></Working>
      <Working name="Region paint" does="strokes that say in and out" open={opened === 'region'} onOpen={() => { open('region'); }}><RegionWay /></Working>
      <Working name="Depth slice" does="all between two depths" open={opened === 'slice'} onOpen={() => { open('slice'); }}><SliceWay /></Working>
      <Working name="Edge" does="offset, hair, feather, specks" open={opened === 'edge'} onOpen={() => { open('edge'); }}><EdgeWay /></Working>
      <Working name="Check" does="the cut alone, on other grounds" open={opened === 'check'} onOpen={() => { open('check'); }}><Check /></Working>
      <Working name="Plan" does="name plates before cutting" open={opened === 'plan'} onOpen={() => { open('plan'); }}><Plan /></Working>
    </>
  );
}

const WORDS: Record<WayToCombine, string> = { add: 'Add', take: 'Take', intersect: 'Both' };

function Joining() {
  const store = useRoomStore();
  const joining = useRoom((s) => s.joining);
  return <Words<WayToCombine> label="Joins the choice" value={joining} onChange={(v) => { store.getState().set({ joining: v }); }} options={(['add', 'take', 'intersect'] as const).map((value) => ({ value, label: WORDS[value] }))} />;
}

function OutlineWay() {
  const store = useRoomStore();
  const shape = useRoom((s) => s.outlineShape);
  return (
    <>
      <Words<typeof shape> label="Drawn as" value={shape} onChange={(v) => { store.getState().set({ outlineShape: v }); }} options={[{ value: 'corners', label: 'Freely' }, { value: 'rectangle', label: 'Rectangle' }, { value: 'ellipse', label: 'Ellipse' }]} />
      <p className="ct-hint">{shape === 'corners' ? 'Click corner after corner, or draw with the button held. A double click or Enter closes the outline.' : 'Drag from one corner to the opposite one.'}</p>
      <Joining />
    </>
  );
}

function FloodWay() {
  const store = useRoomStore();
  const flood = useRoom((s) => s.flood);
  const change = (part: Partial<typeof flood>): void => { changeFlood(store.getState(), { ...flood, ...part }); };
  return (
    <>
      <p className="ct-hint">Click a colour. The values below change the last flood, also after the click.</p>
      <Joining />
      <Bead label="Tolerance" unit="of 255" value={flood.tolerance} min={0} max={255} step={1} onTry={(tolerance) => { change({ tolerance }); }} />
      <Bead label="Seed’s area" unit="px" value={flood.reach * 2 + 1} min={1} max={41} step={2} onTry={(v) => { change({ reach: Math.round((v - 1) / 2) }); }} />
      <label className="ct-switch-row"><Switch checked={flood.connected} onChange={(connected) => { change({ connected }); }} aria-label="Only what hangs together" /> Only what hangs together</label>
    </>
  );
}

function RegionWay() {
  const store = useRoomStore();
  const region = useRoom((s) => s.region);
  const width = useRoom((s) => s.document.source.width);
  const half = useRoom((s) => { const last = s.choice.ingredients[s.choice.ingredients.length - 1]; return last?.kind === 'region' && new Set(last.strokes.map((m) => m.side)).size === 1 ? last.strokes[0].side : undefined; });
  const set = (part: Partial<typeof region>): void => { store.getState().set({ region: { ...region, ...part } }); };
  return (
    <>
      <p className="ct-hint">{half === undefined ? 'A few strokes on the thing, a few around it. Each new stroke corrects the choice.' : <b>Now a stroke that says {half === 'in' ? 'out, beside the thing' : 'in, on the thing'}.</b>}</p>
      <Words<'in' | 'out'> label="The stroke says" value={region.side} onChange={(side) => { set({ side }); }} options={[{ value: 'in', label: 'In' }, { value: 'out', label: 'Out' }]} />
      <Bead label="Size" unit="px" value={region.size} min={1} max={Math.max(20, Math.round(width / 6))} step={1} logarithmic onTry={(size) => { set({ size: Math.max(1, size) }); }} />
      <Joining />
    </>
  );
}

function SliceWay() {
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
      <Bead label="From" unit="depth" value={ends.far} min={0} max={1} step={0.005} decimals={3} greys onTry={(far) => { change({ far: Math.min(far, ends.near) }); }} />
      <Bead label="To" unit="depth" value={ends.near} min={0} max={1} step={0.005} decimals={3} greys onTry={(near) => { change({ near: Math.max(near, ends.far) }); }} />
      <Button block onClick={() => { change({}); }}>Choose this slice</Button>
    </>
  );
}

function EdgeWay() {
  const store = useRoomStore();
  const edge = useRoom((s) => s.choice.edge);
  const set = (part: Partial<EdgeSettings>): void => { const s = store.getState(); s.set({ choice: { ...s.choice, edge: { ...s.choice.edge, ...part } } }); };
  return (
    <>
      <Bead label="Offset" unit="px" value={edge.offsetPx} min={-30} max={30} step={0.5} decimals={1} onTry={(offsetPx) => { set({ offsetPx }); }} />
      <Bead label="Solve hair and leaves" unit="px" value={edge.solvePx} min={0} max={120} step={2} onTry={(solvePx) => { set({ solvePx }); }} />
      <Bead label="Feather" unit="px" value={edge.featherPx} min={0} max={40} step={0.5} decimals={1} onTry={(featherPx) => { set({ featherPx }); }} />
      <Bead label="Smooth" unit="px" value={edge.smoothPx} min={0} max={40} step={0.5} decimals={1} onTry={(smoothPx) => { set({ smoothPx }); }} />
      <Bead label="Fill holes below" unit="px" value={edge.holesPx} min={0} max={5000} step={10} onTry={(holesPx) => { set({ holesPx }); }} />
      <Bead label="Drop specks below" unit="px" value={edge.specksPx} min={0} max={5000} step={10} onTry={(specksPx) => { set({ specksPx }); }} />
      <label className="ct-switch-row"><Switch checked={edge.invert} onChange={(invert) => { set({ invert }); }} aria-label="Invert the choice" /> Invert the choice</label>
      <Button block disabled={JSON.stringify(edge) === JSON.stringify(PLAIN_EDGE)} onClick={() => { set(PLAIN_EDGE); }}>Edge as chosen</Button>
    </>
  );
}

const SPECK_PX = 60;

function Check() {
  const store = useRoomStore();
  const ground = useRoom((s) => s.ground), specksOf = useRoom((s) => s.specksOf);
  const choice = useRoom((s) => s.choice), active = useRoom((s) => s.active), plates = useRoom((s) => s.document.plates);
  const [specks, setSpecks] = useState(-1);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => { void specksOf?.(SPECK_PX).then((n) => { if (!gone) setSpecks(n); }); }, 200);
    return () => { gone = true; clearTimeout(timer); };
  }, [specksOf, choice, active, plates]);
  if (choice.ingredients.length === 0 && !plates.some((p) => p.id === active && p.matte !== null)) return <p className="ct-hint">Choose something, or click a plate’s card: it is shown here alone.</p>;
  return (
    <>
      <p className="ct-hint">Stray pixels hide on the wrong ground: look at the cut on each. Edge colours are cleaned, as in the views.</p>
      <Words<Ground> label="On" value={ground} onChange={(v) => { store.getState().set({ ground: v }); }} options={GROUNDS.map((value) => ({ value, label: value === 'matte' ? 'Matte' : value[0].toUpperCase() + value.slice(1) }))} />
      {specks >= 0 && <p className={specks > 0 ? 'ct-hint ct-warn' : 'ct-hint'}>{specks > 0 ? <><b>{figure(specks)} {specks === 1 ? 'speck' : 'specks'}</b> smaller than {SPECK_PX} px. Drop them under Edge.</> : <>No specks smaller than {SPECK_PX} px.</>}</p>}
    </>
  );
}

function Plan() {
  const store = useRoomStore();
  const [name, setName] = useState('');
  const plan = (): void => { if (name.trim() !== '') { store.getState().plan(name.trim()); setName(''); } };
  return (
    <>
      <p className="ct-hint">A planned plate hangs on the board as an empty card. Click a card to cut into it, in any order.</p>
      <Input value={name} maxLength={60} placeholder="Name of the plate" aria-label="Name of a planned plate" onChange={(e) => { setName(e.target.value); }} onPressEnter={plan} />
      <Button block disabled={name.trim() === ''} onClick={plan}>Plan this plate</Button>
    </>
  );
}

const KINDS: Record<Ingredient['kind'], string> = { outline: 'outline', flood: 'flood', slice: 'depth slice', region: 'region paint' };

/** What is chosen so far, and cutting it. */
function Taking() {
  const store = useRoomStore();
  const choice = useRoom((s) => s.choice), cutting = useRoom((s) => s.cutting), storing = useRoom((s) => s.storing);
  const planned = useRoom((s) => s.document.plates.find((p) => p.id === s.active));
  const count = useRoom((s) => s.document.plates.length);
  const [name, setName] = useState('');
  const called = planned?.name ?? (name.trim() || `Plate ${count + 1}`);
  const set = (next: Choice): void => { store.getState().set({ choice: next }); };
  if (choice.ingredients.length === 0) return <p className="ct-taking ct-hint">Nothing is chosen yet. {planned ? <>The choice goes into <b>{planned.name}</b>.</> : 'Open a way of choosing below.'}</p>;
  const last = choice.ingredients[choice.ingredients.length - 1];
  return (
    <section className="ct-taking" aria-label="The choice">
      <p className="ct-hint"><b>{figure(choice.ingredients.length)} {choice.ingredients.length === 1 ? 'ingredient' : 'ingredients'}</b>, last: {KINDS[last.kind]}{last.way === 'take' ? ', taken away' : last.way === 'intersect' ? ', kept in both' : ''}</p>
      <div className="ct-taking-acts">
        <Button size="small" onClick={() => { set({ ...choice, ingredients: choice.ingredients.slice(0, -1) }); }}>Drop the last</Button>
        <Button size="small" onClick={() => { set({ ingredients: [], edge: PLAIN_EDGE }); }}>Drop all</Button>
      </div>
      {!planned && <Input value={name} maxLength={60} placeholder={called} aria-label="Name of the plate" onChange={(e) => { setName(e.target.value); }} />}
      {planned?.locked && <p className="ct-hint ct-warn"><b>{planned.name} is locked.</b> Unlock it on its card to cut it anew.</p>}
      <Button type="primary" block loading={cutting} disabled={storing !== 'stored' || planned?.locked} onClick={() => { store.getState().cut(planned?.id ?? null, called); setName(''); }}>{cutting ? 'Cutting at full size' : planned?.matte ? `Cut ${called} anew` : `Cut ${called}`}</Button>
    </section>
  );
}
