'use client';

import { App } from 'antd';
import { memo, useEffect, useState } from 'react';
import { DepthBoard } from '../depth-board/DepthBoard';
import { CutStage } from '../stages/cut/CutStage';
import { DepthStage } from '../stages/DepthStage';
import { FillStage } from '../stages/fill/FillStage';
import { OutputStage } from '../stages/OutputStage';
import { Renders } from '../stages/Renders';
import { SourceStage } from '../stages/SourceStage';
import { BudgetTable } from '../stages/BudgetTable';
import { StereoStage } from '../stages/StereoStage';
import { Viewer } from '../viewer/Viewer';
import type { CameraControl } from '../viewer/useCamera';
import type { RenderSummary, ShotState } from '../api';
import { RoomContext, useRoom, useRoomStore } from './context';
import { Foot } from './Foot';
import { createRoom } from './state';
import { ShortcutSheet, useShortcuts } from './shortcuts';
import { TopBar } from './TopBar';
import { WaysToSee } from './WaysToSee';
import './room.css';

// A moving camera draws the picture and the foot anew, nothing else.
const STAGE_PANELS = {
  source: memo(SourceStage),
  cut: memo(CutStage),
  depth: memo(DepthStage),
  fill: memo(FillStage),
  stereo: memo(StereoStage),
  output: memo(OutputStage),
} as const;
const Top = memo(TopBar);
const Ways = memo(WaysToSee);
const Board = memo(DepthBoard);
const Budget = memo(BudgetTable);
const RenderList = memo(Renders);

/** The room: stages above, ways of working at the left, the picture in the middle, the depth board at the right. */
export function Room({ shot, renders, project }: { shot: ShotState; renders: RenderSummary[]; project: string }) {
  const [store] = useState(() => createRoom(shot, renders));
  return (
    <RoomContext.Provider value={store}>
      <RoomFloor project={project} />
    </RoomContext.Provider>
  );
}

/** Follows nothing but the stage: whatever changes often is followed by the parts that show it. */
function RoomFloor({ project }: { project: string }) {
  const stage = useRoom((s) => s.stage);
  const [camera, setCamera] = useState<CameraControl | undefined>();
  const sheet = useShortcuts(camera);
  const Panel = STAGE_PANELS[stage];
  return (
    <div className="ct-room">
      <Messages />
      <Freshness />
      <Top project={project} />
      <aside className="ct-left" aria-label="Ways of working">
        <Panel />
      </aside>
      <main className="ct-middle">
        <Ways />
        <Viewer onCamera={setCamera} />
        {stage === 'stereo' && <Budget />}
        {stage === 'output' && <RenderList />}
        <Foot camera={camera} />
      </main>
      <Board />
      <ShortcutSheet open={sheet.open} onClose={sheet.close} />
    </div>
  );
}

/** Shows the room's notices, and asks before a page is left whose last change is not stored yet. */
function Messages(): null {
  const { message } = App.useApp();
  const store = useRoomStore();
  const notice = useRoom((s) => s.notice);
  const storing = useRoom((s) => s.storing);
  useEffect(() => {
    if (!notice) return;
    void message.open({ type: notice.kind, content: notice.text, duration: notice.kind === 'error' ? 9 : 5 });
    store.getState().set({ notice: undefined });
  }, [notice, message, store]);
  useEffect(() => {
    if (storing === 'stored') return undefined;
    const ask = (e: BeforeUnloadEvent): void => {
      e.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('beforeunload', ask);
    };
  }, [storing]);
  return null;
}

/** Follows renders while any runs, and looks for changes from other windows now and then. */
function Freshness(): null {
  const store = useRoomStore();
  const running = useRoom((s) => s.renders.some((r) => r.state === 'queued' || r.state === 'running'));
  useEffect(() => {
    const timer = setInterval(
      () => {
        if (!document.hidden) void store.getState().refresh();
      },
      running ? 700 : 4000,
    );
    const back = (): void => {
      if (!document.hidden) void store.getState().refresh();
    };
    document.addEventListener('visibilitychange', back);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', back);
    };
  }, [store, running]);
  return null;
}
