'use client';

import { READY_MOVES, readyMove } from '@/core/camera/ready';
import { poseAt } from '@/core/camera/move';
import { speedAt, JUDDER_WIDTH } from '@/core/move/speed';
import { wholeScene } from '@/core/scene/sceneAt';
import type { MovePart } from '@/core/shot/document';
import { figure } from '../../numbers';
import { Bead } from '../../parts/Bead';
import { Allowed } from './Allowed';
import { MoveGlyph } from './glyphs';
import { useMove, useMoveStore } from './slice';

const FIRST_STRENGTH = 0.5;

/** Moves that are made in one step, in size to this scene. */
export function ReadyMoves() {
  const store = useMoveStore();
  const move = useMove((s) => s.document.move);
  const { makeReady, keep } = store.getState();
  const ready = move?.ready ? readyMove(move.ready.kind) : undefined;
  return (
    <>
      <div className="ct-ready" role="group" aria-label="Ready moves">
        {READY_MOVES.map(({ kind, name, does }) => (
          <button
            key={kind}
            type="button"
            className={kind === ready?.kind ? 'on' : ''}
            aria-pressed={kind === ready?.kind}
            title={`${name}: ${does}`}
            onClick={() => {
              makeReady(kind, move?.ready?.strength ?? FIRST_STRENGTH);
              keep(name);
            }}
          >
            <MoveGlyph kind={kind} />
            {name}
          </button>
        ))}
      </div>
      {move && !ready && (
        <p className="ct-hint">These beads were set by hand. A ready move takes their place; undo brings them back.</p>
      )}
      {move?.ready && ready && (
        <>
          <Bead
            label="Strength"
            unit="%"
            value={Math.round(move.ready.strength * 100)}
            min={0}
            max={200}
            step={1}
            onTry={(v) => {
              makeReady(ready.kind, v / 100);
            }}
            onKeep={() => {
              const now = store.getState().document.move?.ready;
              keep(`${ready.name}, ${Math.round((now?.strength ?? 0) * 100)} %`);
            }}
          />
          <Allowed kind={ready.kind} />
          {ready.byDepth && <ByDepth />}
        </>
      )}
      {move && <Facts move={move} />}
    </>
  );
}

/** Which plate keeps its size, or is gone round. */
function ByDepth() {
  const name = useMove((s) => s.document.plates.find((p) => p.id === s.active)?.name);
  return (
    <p className="ct-hint">
      By the depth of <b>{name ?? 'the middle'}</b>. Choose a plate on the board and the move again to go by it.
    </p>
  );
}

/** How far the camera goes, and how fast. */
function Facts({ move }: { move: MovePart }) {
  const document = useMove((s) => s.document);
  const scene = wholeScene(document);
  let fastest = 0;
  const most = [0, 0, 0];
  const least = [0, 0, 0];
  for (let f = 0; f < move.frames; f++) {
    if (f < move.frames - 1) fastest = Math.max(fastest, speedAt(scene, move, f));
    poseAt(move, f).position.forEach((v, n) => {
      most[n] = Math.max(most[n], v);
      least[n] = Math.min(least[n], v);
    });
  }
  const judders = fastest * (move.fps / 24) > JUDDER_WIDTH * scene.width;
  const row = (name: string, n: number) => (
    <div>
      <dt>{name}</dt>
      <dd>
        <b>{figure(most[n] - least[n], 2)}</b> m
      </dd>
    </div>
  );
  return (
    <>
      <dl className="ct-facts">
        {row('Sideways', 0)}
        {row('Up and down', 1)}
        {row('Forward', 2)}
        <div>
          <dt>Fastest</dt>
          <dd className={judders ? 'ct-warn' : ''}>
            <b>{figure(fastest, 1)}</b> px per frame
          </dd>
        </div>
      </dl>
      {judders && (
        <p className="ct-hint ct-warn">
          <b>Judders:</b> the nearest passes faster than {figure(JUDDER_WIDTH * scene.width * (24 / move.fps), 0)} px
          per frame. More seconds or less strength help.
        </p>
      )}
    </>
  );
}
