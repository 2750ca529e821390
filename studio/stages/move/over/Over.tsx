'use client';

import type { Bench } from '../../../viewer/tool';
import { useMove } from '../slice';
import { Ghosts } from './Ghosts';
import { Places } from './Places';

/** What the move stage draws over the picture. */
export function Over({ bench }: { bench: Bench }) {
  const ghosts = useMove(
    (s) => s.ghosts && s.document.move !== null && s.beside === null && s.ways[s.stage] !== 'both',
  );
  const playing = useMove((s) => s.playing);
  return (
    <>
      {ghosts && <Ghosts bench={bench} />}
      {!playing && <Places bench={bench} />}
      <Names bench={bench} />
    </>
  );
}

/** Which version is which, where two are shown side by side. */
function Names({ bench: { toScreen } }: { bench: Bench }) {
  const other = useMove((s) =>
    s.beside === null || !s.document.move ? undefined : s.document.keptMoves[s.beside]?.name,
  );
  const width = useMove((s) => s.document.source.width * (s.ways[s.stage] === 'both' ? 2 : 1));
  if (other === undefined) return null;
  return (
    <>
      {['This move', other].map((name, n) => {
        const { x, y } = toScreen({ x: n * width, y: 0 });
        return (
          <div key={name} className="ct-slip" style={{ left: x + 8, top: y + 8 }}>
            <b>{name}</b>
          </div>
        );
      })}
    </>
  );
}
