'use client';

import { Button } from 'antd';
import { Underway } from '../parts/Underway';
import { useRoom, useRoomStore } from '../room/context';
import { framesOpen } from './trustOf';

/** Carries what is not carried yet. */
export function CarryButton() {
  const store = useRoomStore();
  const open = useRoom((s) => (s.footage ? framesOpen(s.footage) : undefined));
  const plates = useRoom((s) => (s.footage?.plates.length ?? 0) > 0);
  const proxies = useRoom((s) => s.footage?.proxies);
  const working = useRoom((s) => s.working);
  if (proxies && proxies.problem !== null)
    return (
      <p role="alert" className="ct-warn">
        {proxies.problem}
      </p>
    );
  if (proxies && proxies.ready < proxies.frames)
    return (
      <p className="ct-hint">
        The frames are being prepared: {proxies.ready} of {proxies.frames}.
      </p>
    );
  if (open === 0)
    return (
      <p className="ct-hint">{plates ? 'Every frame has its plates and its depth.' : 'Every frame has its depth.'}</p>
    );
  if (working !== undefined) return <Underway of="carrying" />;
  return (
    <Button type="primary" block disabled={open === undefined} onClick={() => void store.getState().carry('keys')}>
      Carry {plates ? '' : 'depth '}to {open} {open === 1 ? 'frame' : 'frames'}
    </Button>
  );
}
