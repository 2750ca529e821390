'use client';

import { Button } from 'antd';
import { CarryButton } from '../../footage/CarryButton';
import { framesOpen } from '../../footage/trustOf';
import { figure } from '../../numbers';
import { Underway } from '../../parts/Underway';
import { useRoom, useRoomStore } from '../../room/context';
import { FrameList } from '../../time/FrameList';
import { ToFrame } from '../../time/ToFrame';

/** What lies behind the plates over time: borrowed from frames that show it, filled where none does. */
export function OverTime() {
  const hides = useRoom((s) => s.document.plates.some(({ piece, keys }) => !piece && keys.length > 0));
  const fills = useRoom((s) => s.document.footage?.fills);
  if (!hides)
    return (
      <p className="ct-hint">
        No plate was cut from this film yet, so nothing lies hidden. Cut what the eye could look behind.
      </p>
    );
  return (
    <>
      <p className="ct-hint">
        What a plate hides in one frame another often shows. It is taken from there, and what no frame shows is invented
        once for all.
      </p>
      {fills && fills.length > 0 && (
        <>
          <p className="ct-label">Filled by hand or machine</p>
          <FrameList
            label="Frames that were filled"
            frames={fills.map(({ frame }) => ({ frame, says: 'carried to the others' }))}
          />
        </>
      )}
      <Seen />
      <FindButton />
    </>
  );
}

/** How much of what is hidden other frames show. */
function Seen() {
  const behind = useRoom((s) => s.footage?.behind);
  const known = behind?.seen.filter((v) => v !== null) ?? [];
  if (!behind || known.length === 0) return null;
  const least = Math.min(...known);
  const at = behind.seen.indexOf(least);
  const mean = known.reduce((sum, v) => sum + v, 0) / known.length;
  return (
    <dl className="ct-facts">
      <div>
        <dt>Seen elsewhere</dt>
        <dd>{figure(100 * mean, 0)} %</dd>
      </div>
      <div>
        <dt>Least of it</dt>
        <dd>
          {figure(100 * least, 0)} % <ToFrame frame={at} word="at" />
        </dd>
      </div>
    </dl>
  );
}

/** Finds what is not known yet; plates and depth must be carried before. */
function FindButton() {
  const store = useRoomStore();
  const state = useRoom((s) => s.footage);
  const working = useRoom((s) => s.working);
  if (!state || framesOpen(state) > 0 || state.proxies.ready < state.proxies.frames) return <CarryButton />;
  const { depth, colours } = state.behind;
  const open = depth.there.filter((there, n) => !there || !colours.there[n]).length;
  if (open === 0) return <p className="ct-hint">What lies behind is known in every frame.</p>;
  if (working !== undefined) return <Underway of="search" />;
  return (
    <Button type="primary" block onClick={() => void store.getState().carry('behind')}>
      Find it in {open} {open === 1 ? 'frame' : 'frames'}
    </Button>
  );
}
