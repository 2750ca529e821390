'use client';

import { App } from 'antd';
import { Fragment, memo, useEffect, useState } from 'react';
import type { StoreApi } from 'zustand';
import { DepthBoard } from '../depth-board/DepthBoard';
import { Ways } from '../parts/Ways';
import { stageOf } from '../stages';
import { Viewer } from '../viewer/Viewer';
import type { CameraControl } from '../viewer/useCamera';
import type { RenderSummary, ShotState } from '../api';
import { RoomContext, useRoom, useRoomStore } from './context';
import type { RoomCore } from './core';
import { FilmRoom } from '../footage/FilmContext';
import { FootageStrip } from '../footage/FootageStrip';
import { createRoom } from './createRoom';
import { paced } from './paced';
import { Foot } from './Foot';
import { ShortcutSheet, useShortcuts } from './shortcuts';
import { TopBar } from './TopBar';
import { WaysToSee } from './WaysToSee';
import './room.css';

// A moving camera draws the picture and the foot anew, nothing else.
const Top = memo(TopBar);
const WaysRow = memo(WaysToSee);
const Board = memo(DepthBoard);
const Panel = memo(StagePanel);
const Below = memo(BelowPicture);
const Film = memo(FootageStrip);

export interface RoomProps {
  readonly shot: ShotState;
  readonly renders: RenderSummary[];
  readonly project: string;
  /** The shot has one depth everywhere. */
  readonly flat: boolean;
}

/** The room: stages above, ways of working at the left, the picture in the middle, the depth board at the right. */
export function Room({ shot, renders, project, flat }: RoomProps) {
  const [stores] = useState(() => {
    const store = createRoom(shot, renders, flat) as unknown as StoreApi<RoomCore>;
    return { store, seen: paced(store) };
  });
  return (
    <RoomContext.Provider value={stores}>
      <RoomFloor project={project} />
    </RoomContext.Provider>
  );
}

function RoomFloor({ project }: { project: string }) {
  const [camera, setCamera] = useState<CameraControl | undefined>();
  const sheet = useShortcuts(camera);
  return (
    <FilmRoom>
      <div className="ct-room">
        <Messages />
        <Freshness />
        <Top project={project} />
        <aside className="ct-left" aria-label="Ways of working">
          <Panel />
        </aside>
        <main className="ct-middle">
          <WaysRow />
          <Viewer onCamera={setCamera} />
          <Under camera={camera} />
        </main>
        <Board />
        <ShortcutSheet open={sheet.open} onClose={sheet.close} />
      </div>
    </FilmRoom>
  );
}

/** The stage that is open: its head, and its ways of working. */
function StagePanel() {
  const key = useRoom((s) => s.stage);
  const { Head, ways, compact } = stageOf(key);
  return (
    <Fragment key={key}>
      <Head />
      <Ways stage={key} ways={ways} compact={compact} />
    </Fragment>
  );
}

/** The foot, and what the stage shows under the picture: under it or over it. */
function Under({ camera }: { camera: CameraControl | undefined }) {
  const timed = useRoom((s) => stageOf(s.stage).Foot !== undefined);
  // A stage that lays out time itself has its own strip.
  const filmed = useRoom((s) => s.document.footage !== null) && !timed;
  return (
    <>
      {!timed && <Below />}
      <Foot camera={camera} />
      {timed && <Below />}
      {filmed && <Film />}
    </>
  );
}

/** What the stage shows under the picture. */
function BelowPicture() {
  const { Below: Shown } = stageOf(useRoom((s) => s.stage));
  return Shown ? <Shown /> : null;
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
  useEffect(() => {
    // Another handle is taken: what waits for the hand to rest is a change of its own.
    const settle = (): void => {
      store.getState().settle();
    };
    window.addEventListener('pointerdown', settle, true);
    window.addEventListener('focusin', settle, true);
    return () => {
      window.removeEventListener('pointerdown', settle, true);
      window.removeEventListener('focusin', settle, true);
    };
  }, [store]);
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
