'use client';

import { Button, Progress, Tooltip } from 'antd';
import Link from 'next/link';
import { spanBudget } from '@/core/stereo/parallax';
import { Mark } from '../parts/Mark';
import { figure, moment, signed } from '../numbers';
import { secondsLeft } from '../stages/Renders';
import { useRoom, useRoomStore } from './context';
import type { RoomState } from './state';
import { STAGES, type Stage } from './values';

const NAMES: Record<Stage, string> = {
  source: 'Source',
  cut: 'Cut',
  depth: 'Depth',
  fill: 'Fill',
  stereo: 'Stereo',
  output: 'Output',
};

/** How a stage stands, in a few words. */
function stands(stage: Stage, s: RoomState): string {
  switch (stage) {
    case 'source':
      return `${figure(s.document.source.width)} × ${figure(s.document.source.height)} px`;
    case 'cut': {
      const n = s.document.plates.filter((p) => p.matte !== null).length;
      const planned = s.document.plates.length - n;
      return planned > 0
        ? `${planned} to do`
        : n === 0
          ? 'back plate only'
          : `${n} ${n === 1 ? 'plate' : 'plates'} + back`;
    }
    case 'depth':
      return s.active === null
        ? 'back plate'
        : (s.document.plates.find((p) => p.id === s.active)?.name ?? 'back plate');
    case 'fill': {
      const open = s.uncovered?.reduce((a, u) => a + u.open, 0);
      return s.document.plates.every((p) => p.matte === null)
        ? 'nothing hidden'
        : open === undefined
          ? 'not counted yet'
          : open === 0
            ? 'all filled'
            : `${figure(open)} px open`;
    }
    case 'stereo': {
      const b = spanBudget(s.document.budget, s.document.depth);
      return `${signed(b.nearPx, 0)} / ${signed(b.farPx, 0)} px`;
    }
    case 'output': {
      const done = s.renders.filter((r) => r.state === 'done').length;
      return done === 0 ? 'none yet' : `${done} ${done === 1 ? 'render' : 'renders'}`;
    }
  }
}

/** Project and shot, the stages in the order of work, what is stored, what is rendering. Each part follows only what it shows. */
export function TopBar({ project }: { project: string }) {
  const name = useRoom((s) => s.shot.name);
  return (
    <header className="ct-top">
      <Link href="/" className="ct-home" aria-label="To the desk" prefetch={false}>
        <Mark />
        <span>
          <b>{name}</b>
          <small>{project}</small>
        </span>
      </Link>
      <nav className="ct-stages" aria-label="Stages">
        {STAGES.map((stage) => (
          <StageWord key={stage} stage={stage} />
        ))}
      </nav>
      <div className="ct-top-right">
        <Step action="undo" word="Undo" />
        <Step action="redo" word="Redo" />
        <div className="ct-status">
          <Stored />
          <Running />
        </div>
      </div>
    </header>
  );
}

function StageWord({ stage }: { stage: Stage }) {
  const store = useRoomStore();
  const on = useRoom((s) => s.stage === stage);
  const how = useRoom((s) => stands(stage, s));
  return (
    <button
      type="button"
      className={on ? 'on' : ''}
      aria-current={on ? 'step' : undefined}
      onClick={() => {
        store.getState().set({ stage });
      }}
    >
      <span>{NAMES[stage]}</span>
      <small>{how}</small>
    </button>
  );
}

function Step({ action, word }: { action: 'undo' | 'redo'; word: string }) {
  const store = useRoomStore();
  const label = useRoom((s) => s.shot[action]);
  return (
    <Tooltip title={label ? `${word}: ${label}` : `Nothing to ${action}`}>
      <Button
        type="text"
        disabled={!label}
        onClick={() => {
          store.getState().step(action);
        }}
      >
        {word}
      </Button>
    </Tooltip>
  );
}

function Stored() {
  const storing = useRoom((s) => s.storing);
  const at = useRoom((s) => s.storedAt);
  return (
    <span role="status" data-testid="stored" data-storing={storing} className={storing === 'waiting' ? 'ct-warn' : ''}>
      <i className={`ct-dot ct-dot-${storing}`} aria-hidden />
      {storing === 'stored' ? (
        <>
          <b>Stored</b> {moment(at)}
        </>
      ) : storing === 'storing' ? (
        'Storing'
      ) : (
        <b>Not stored yet, trying again</b>
      )}
    </span>
  );
}

function Running() {
  const renders = useRoom((s) => s.renders);
  const running = renders.filter((r) => r.state === 'running' || r.state === 'queued');
  if (running.length === 0) return <span className="ct-quiet">No renders running</span>;
  const first = running.find((r) => r.state === 'running') ?? running[0];
  const left = secondsLeft(first);
  return (
    <span className="ct-quiet">
      {running.length} {running.length === 1 ? 'render' : 'renders'}
      {left === undefined ? '' : `, ${left} s left`}
      <Progress
        percent={Math.round(first.progress * 100)}
        showInfo={false}
        size={{ width: 44, height: 4 }}
        className="ct-small-progress"
        aria-label="Progress of the running render"
      />
    </span>
  );
}
