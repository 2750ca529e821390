'use client';

import { Button } from 'antd';
import { KEPT_MOVES, type KeptMove } from '@/core/shot/document';
import { readyMove } from '@/core/camera/ready';
import { secondsOf } from '@/core/time/rate';
import { figure } from '../../numbers';
import { SwitchRow } from '../../parts/SwitchRow';
import { useMove, useMoveStore } from './slice';

/** Ghosts of the first and the last frame, and other versions of the move, one of them beside it. */
export function CompareWay() {
  const store = useMoveStore();
  const move = useMove((s) => s.document.move);
  const kept = useMove((s) => s.document.keptMoves);
  const ghosts = useMove((s) => s.ghosts);
  const beside = useMove((s) => s.beside);
  const room = store.getState();
  if (!move && kept.length === 0) return <p className="ct-hint">Nothing moves yet, so there is nothing to compare.</p>;
  const keep = (): void => {
    if (!move) return;
    const word = (move.ready && readyMove(move.ready.kind)?.name) ?? 'By hand';
    const names = kept.map(({ name }) => name);
    let name = word;
    for (let n = 2; names.includes(name); n++) name = `${word} ${n}`;
    room.change(`Keep ${name}`, { keptMoves: [...kept, { name, move }] });
  };
  return (
    <>
      <SwitchRow
        label="Ghosts of the first and the last frame"
        checked={ghosts}
        onChange={(on) => {
          room.set({ ghosts: on });
        }}
      >
        Ghosts: thin lines where things are at first, dashed ones where they are at last
      </SwitchRow>
      <Button size="small" disabled={!move || kept.length >= KEPT_MOVES} onClick={keep}>
        Keep this version
      </Button>
      {kept.length === 0 && <p className="ct-hint">A kept version can be shown beside the move, and taken up again.</p>}
      <ul className="ct-versions">
        {kept.map((version, n) => (
          <Version
            key={version.name}
            version={version}
            beside={beside === n}
            onBeside={(on) => {
              room.set({ beside: on ? n : null });
            }}
            onTake={() => {
              room.change(`Take ${version.name}`, { move: version.move });
              room.set({ bead: null });
            }}
            onDrop={() => {
              room.change(`Drop ${version.name}`, { keptMoves: kept.filter((v) => v !== version) });
              room.set({ beside: null });
            }}
          />
        ))}
      </ul>
    </>
  );
}

function Version({
  version: { name, move },
  beside,
  onBeside,
  onTake,
  onDrop,
}: {
  version: KeptMove;
  beside: boolean;
  onBeside(on: boolean): void;
  onTake(): void;
  onDrop(): void;
}) {
  return (
    <li>
      <b>{name}</b>
      <small>
        {figure(secondsOf(move.frames, move.fps), 1)} s, {move.keys.length} beads
        {move.ready ? `, ${Math.round(move.ready.strength * 100)} %` : ''}
      </small>
      <span>
        <Button
          type="link"
          size="small"
          aria-pressed={beside}
          onClick={() => {
            onBeside(!beside);
          }}
        >
          {beside ? 'Not beside' : 'Beside'}
        </Button>
        <Button type="link" size="small" onClick={onTake}>
          Take
        </Button>
        <Button type="link" size="small" onClick={onDrop}>
          Drop
        </Button>
      </span>
    </li>
  );
}
