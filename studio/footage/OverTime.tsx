'use client';

import { Button } from 'antd';
import { keyAt } from '@/core/shot/atMoment';
import { useRoom, useRoomStore } from '../room/context';
import { FrameList } from '../time/FrameList';
import { CarryButton } from './CarryButton';
import { TrustRows } from './TrustRows';

/** Depth over time: key frames, what is carried from them, and how far that is trusted. */
export function OverTime() {
  const footage = useRoom((s) => s.document.footage);
  if (!footage) return <p className="ct-hint">This shot is a still. Depth over time belongs to moving pictures.</p>;
  return (
    <>
      <Keys />
      <KeyHere />
      <TrustRows />
      <CarryButton />
    </>
  );
}

/** The frames that have depth of their own. */
function Keys() {
  const keys = useRoom((s) => s.document.footage?.keys);
  if (!keys) return null;
  const says = (marks: (typeof keys)[number]['marks']): string =>
    marks.length > 0 ? `${marks.reduce((n, held) => n + held.marks.length, 0)} marks` : 'a map';
  return (
    <>
      <p className="ct-label">Key frames of depth</p>
      <FrameList label="Key frames of depth" frames={keys.map(({ frame, marks }) => ({ frame, says: says(marks) }))} />
    </>
  );
}

/** What can be done about a key at the frame that is seen. */
function KeyHere() {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  const hasKey = useRoom((s) => s.document.footage !== null && keyAt(s.document.footage, s.moment) !== undefined);
  if (!hasKey)
    return (
      <>
        <p className="ct-hint">
          Depth of frame <b>{moment + 1}</b> is carried from the keys. Set a key to work on it.
        </p>
        <Button
          block
          onClick={() => {
            store.getState().depthKey('set');
          }}
        >
          Set a key at frame {moment + 1}
        </Button>
      </>
    );
  if (moment === 0) return <p className="ct-hint">The first frame always has depth of its own.</p>;
  return (
    <Button
      block
      onClick={() => {
        store.getState().depthKey('drop');
      }}
    >
      Take the key at frame {moment + 1} off
    </Button>
  );
}
