'use client';

import { Button, Popconfirm, Progress } from 'antd';
import { recipeLabel } from '@/core/recipes';
import type { RenderSummary } from '../../api';
import { bytes, figure, moment } from '../../numbers';
import { useSecondsLeft } from '../../parts/secondsLeft';
import { useRoom, useRoomStore } from '../../room/context';

/** The shot's renders: what runs, what is done, what to fetch. */
export function Renders() {
  const renders = useRoom((s) => s.renders);
  const timeLeft = useSecondsLeft();
  return (
    <section className="ct-renders" aria-label="Renders">
      <h2>Renders</h2>
      {renders.length === 0 ? (
        <p className="ct-hint">
          Nothing rendered yet. Choose what to hand over at the left; the files stay here to be fetched.
        </p>
      ) : (
        <table className="ct-table">
          <tbody>
            {renders.map((r) => (
              <Row key={r.id} render={r} left={timeLeft(r)} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** A look at a video before it is whole. */
const FIRST = 'first-frame.png';

function Row({ render, left }: { render: RenderSummary; left: number | undefined }) {
  const room = useRoomStore().getState();
  const { state, report } = render;
  const first = render.outputs.find(({ name }) => name === FIRST);
  const outputs = render.outputs.filter((o) => o !== first);
  const total = outputs.reduce((n, o) => n + o.size, 0);
  return (
    <tr data-testid="render" data-state={state}>
      <th scope="row">
        {recipeLabel(render.recipe)}
        <small>{moment(render.createdAt)}</small>
        {first && (
          <a
            className="ct-first-frame"
            href={`/api/renders/${render.id}/files/${first.n}`}
            title="The first frame, at full size"
          >
            <img src={`/api/renders/${render.id}/files/${first.n}`} alt="First frame" />
          </a>
        )}
      </th>
      <td>
        {state === 'running' && (
          <>
            <Progress percent={Math.round(render.progress * 100)} size="small" aria-label="Progress" />
            <small>
              {render.step}
              {left === undefined ? '' : `, ${left} s left`}
            </small>
          </>
        )}
        {state === 'queued' && <span>{render.step}</span>}
        {state === 'stopped' && (
          <span>
            {first && `Stopped at ${Math.round(render.progress * 100)} %: it goes on from there`}
            {!first && 'Stopped'}
            {outputs.length > 0 ? ` after ${outputs.length} ${outputs.length === 1 ? 'file' : 'files'}` : ''}
          </span>
        )}
        {state === 'failed' && (
          <span className="ct-warn">
            <b>Failed.</b> {render.error}
          </span>
        )}
        {state === 'done' && report && (
          <>
            <span>
              {figure(report.width)} × {figure(report.height)} px, {bytes(total)}
            </span>
            <small>
              in {figure(report.milliseconds / 1000, 1)} s, up to {figure(report.revealedShare * 100, 2)} % revealed
              {report.openPx ? `, ${figure(report.openPx)} px not filled` : ''}
            </small>
          </>
        )}
      </td>
      <td className="ct-actions">
        {outputs.length > 0 &&
          outputs.length <= 2 &&
          outputs.map((o) => (
            <Button
              key={o.n}
              size="small"
              href={`/api/renders/${render.id}/files/${o.n}`}
              title={`${o.name}, ${bytes(o.size)}`}
            >
              {shortName(o.name)}
            </Button>
          ))}
        {outputs.length > 1 && (
          <Button size="small" href={`/api/renders/${render.id}/zip`}>
            {outputs.length > 2 ? `All ${outputs.length} as zip` : 'zip'}
          </Button>
        )}
        {(state === 'running' || state === 'queued') && (
          <Button
            size="small"
            onClick={() => {
              void room.actOnRender(render.id, 'stop');
            }}
          >
            Stop
          </Button>
        )}
        {(state === 'failed' || state === 'stopped') && (
          <Button
            size="small"
            onClick={() => {
              void room.actOnRender(render.id, 'retry');
            }}
          >
            {state === 'stopped' ? 'Go on' : 'Try again'}
          </Button>
        )}
        {state !== 'running' && state !== 'queued' && (
          <Popconfirm
            title="Remove this render and its files?"
            okText="Remove"
            cancelText="Keep"
            onConfirm={() => room.actOnRender(render.id, 'remove')}
          >
            <Button size="small" type="text">
              Remove
            </Button>
          </Popconfirm>
        )}
      </td>
    </tr>
  );
}

/** What a file is called on its button, by how its name begins; others are packed side by side. */
const SHORT = { sheet: 'Sheet', anaglyph: 'Anaglyph', move: 'Video' } as const;

function shortName(name: string): string {
  if (name.length <= 12) return name;
  const word = Object.entries(SHORT).find(([begin]) => name.startsWith(begin))?.[1] ?? 'Side by side';
  return name.replace(/^.*(\.[^.]+)$/, (_, end: string) => `${word}${end}`);
}
