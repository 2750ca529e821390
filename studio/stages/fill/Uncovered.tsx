'use client';

import { useEffect } from 'react';
import { sceneOf } from '@/core/scene/sceneOf';
import { figure } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { Choice } from '../../parts/Choice';
import { SwitchRow } from '../../parts/SwitchRow';
import { lookingOf, useFill as useRoom, useFillStore as useRoomStore, type LookBehind } from './slice';

/** What the views uncover of each plate, nearest first: the list of what is to do. */
export function Uncovered() {
  const store = useRoomStore();
  const behind = useRoom((s) => s.behind);
  const uncovered = useRoom((s) => s.uncovered);
  const active = useRoom((s) => s.active);
  const plates = useRoom((s) => s.document.plates);
  const views = useRoom((s) => s.document.recipes.views.views);
  const width = useRoom((s) => s.document.source.width);
  const moves = useRoom((s) => s.document.move !== null);
  const set = (part: Partial<LookBehind>): void => {
    store.getState().set({ behind: { ...behind, ...part } });
  };
  const nameOf = (id: string | null): string =>
    id === null ? 'Back plate' : (plates.find((p) => p.id === id)?.name ?? '');
  const todo = uncovered?.filter((u) => u.revealed > 0 || u.torn > 0);
  return (
    <>
      {!plates.some((p) => p.matte !== null) && (
        <p className="ct-hint">
          No plate is cut yet. What one depth map tears open is filled from the farther side by itself.
        </p>
      )}
      {!todo && <p className="ct-hint">Counting.</p>}
      {todo?.length === 0 && (
        <p className="ct-hint">
          No view{moves && behind.byMove ? ' and no frame of the move' : ''} uncovers anything at this budget.
        </p>
      )}
      {todo && todo.length > 0 && (
        <ul className="ct-uncovered" aria-label="What is uncovered">
          {todo.map((u) => (
            <li key={u.id ?? 'back'} className={u.id === active ? 'on' : ''}>
              <button
                type="button"
                aria-pressed={u.id === active}
                onClick={() => {
                  store.getState().set({ active: u.id });
                }}
              >
                <b>{nameOf(u.id)}</b>
                {u.revealed > 0 && (
                  <span className={u.open > 0 ? 'ct-warn' : ''}>
                    {u.open > 0 ? `${figure(u.open)} px open` : 'all filled'}, {figure(u.revealed - u.open)} px filled
                  </span>
                )}
                <small>
                  {u.revealed > 0 && `${figure(u.share * 100, 1)} % of the plate`}
                  {u.revealed > 0 && u.torn > 0 && '; '}
                  {u.torn > 0 && `${figure(u.torn)} px torn inside it`}
                </small>
              </button>
            </li>
          ))}
        </ul>
      )}
      <Bead
        label="Push nearer plates aside"
        unit="px"
        value={behind.asidePx}
        min={-Math.round(width / 2)}
        max={Math.round(width / 2)}
        step={1}
        onTry={(asidePx) => {
          set({ asidePx });
        }}
      />
      <p className="ct-hint">
        Or hold <kbd>V</kbd>: they step aside as long as it is held.
      </p>
      <SwitchRow
        label="Mark what is uncovered"
        checked={behind.reveal}
        onChange={(reveal) => {
          set({ reveal });
        }}
      >
        Mark what is uncovered
      </SwitchRow>
      <Choice<string>
        label="Seen from"
        value={behind.views === 2 ? 'eyes' : 'views'}
        onChange={(v) => {
          set({ views: v === 'eyes' ? 2 : views });
        }}
        options={[
          { value: 'eyes', label: 'Both eyes' },
          { value: 'views', label: `All ${views} views` },
        ]}
      />
      {moves && (
        <SwitchRow
          label="Also what the move uncovers"
          checked={behind.byMove}
          onChange={(byMove) => {
            set({ byMove });
          }}
        >
          Also by the camera’s move
        </SwitchRow>
      )}
      <Bead
        label="Margin"
        unit="px"
        value={behind.marginPx}
        min={0}
        max={60}
        step={1}
        onTry={(marginPx) => {
          set({ marginPx });
        }}
      />
    </>
  );
}

/** Counts anew once the hand rests, whatever has changed: budget, depth, plates, fills. */
export function useCounting(): void {
  const store = useRoomStore();
  const preview = useRoom((s) => s.preview);
  const document = useRoom((s) => s.document);
  const rasters = useRoom((s) => s.rasterTicket);
  const behind = useRoom((s) => s.behind);
  const { views, marginPx, byMove } = behind;
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      void preview?.revealCounts(sceneOf(document), lookingOf(behind, document)).then((uncovered) => {
        if (!gone && uncovered) store.getState().set({ uncovered });
      });
    }, 160);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, preview, document, rasters, views, marginPx, byMove]);
}

/** Work begins where something is open: at the nearest such plate, where the one in work has nothing to fill. */
export function useBeginWhereOpen(): void {
  const store = useRoomStore();
  const counted = useRoom((s) => s.uncovered !== undefined);
  useEffect(() => {
    const { uncovered, active } = store.getState();
    const openOf = (id: string | null): number => uncovered?.find((u) => u.id === id)?.open ?? 0;
    const first = uncovered?.find((u) => u.open > 0);
    if (first && openOf(active) === 0) store.getState().set({ active: first.id });
  }, [store, counted]);
}
