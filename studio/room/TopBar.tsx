'use client';

import { Button, Progress, Tooltip } from 'antd';
import Link from 'next/link';
import { Mark } from '../parts/Mark';
import { moment } from '../numbers';
import { STAGES, stageOf, type RoomState } from '../stages';
import { useSecondsLeft } from '../parts/secondsLeft';
import { useRoom, useRoomStore } from './context';
import { Refused } from './Refused';

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
        {STAGES.map(({ key }) => (
          <StageWord key={key} stage={key} />
        ))}
      </nav>
      <div className="ct-top-right">
        <Step action="undo" word="Undo" />
        <Step action="redo" word="Redo" />
        <div className="ct-status">
          <Stored />
          <Refused />
          <Running />
        </div>
      </div>
    </header>
  );
}

function StageWord({ stage }: { stage: string }) {
  const store = useRoomStore();
  const on = useRoom((s) => s.stage === stage);
  const module = stageOf(stage);
  const how = useRoom((s) => module.stands(s as RoomState));
  return (
    <button
      type="button"
      className={on ? 'on' : ''}
      aria-current={on ? 'step' : undefined}
      onClick={() => {
        store.getState().set({ stage });
      }}
    >
      <span>{module.name}</span>
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
      {storing === 'stored' && (
        <>
          <b>Stored</b> {moment(at)}
        </>
      )}
      {storing === 'storing' && 'Storing'}
      {storing === 'waiting' && <b>Not stored yet, trying again</b>}
    </span>
  );
}

function Running() {
  const renders = useRoom((s) => s.renders);
  const timeLeft = useSecondsLeft();
  const running = renders.filter((r) => r.state === 'running' || r.state === 'queued');
  if (running.length === 0) return <span className="ct-quiet">No renders running</span>;
  const first = running.find((r) => r.state === 'running') ?? running[0];
  const left = timeLeft(first);
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
