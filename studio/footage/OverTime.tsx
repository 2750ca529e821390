'use client';

import { Button, Slider } from 'antd';
import { keyAt } from '@/core/shot/atMoment';
import { figure } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import { FrameList } from '../time/FrameList';
import { unsureStretches } from './unsure';

/** Depth over time: key frames, what is carried from them, and how far that is trusted. */
export function OverTime() {
  const footage = useRoom((s) => s.document.footage);
  if (!footage) return <p className="ct-hint">This shot is a still. Depth over time belongs to moving pictures.</p>;
  return (
    <>
      <Keys />
      <KeyHere />
      <Trust />
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

/** How far what is carried is trusted. */
function Trust() {
  const store = useRoomStore();
  const trust = useRoom((s) => s.footage?.trust);
  const limit = useRoom((s) => s.trustLimit);
  const known = trust?.filter((v): v is number => v !== null) ?? [];
  if (!trust || known.length <= 1 || known.length < trust.length / 4) return null;
  const least = Math.min(...known);
  const at = trust.indexOf(least);
  const below = unsureStretches(trust, limit).reduce((n, { first, last }) => n + last - first + 1, 0);
  return (
    <>
      <label className="ct-trust-limit">
        <span>
          Trust limit <b>{figure(limit, 2)}</b>
        </span>
        <Slider
          min={0.3}
          max={0.98}
          step={0.01}
          value={limit}
          onChange={(v) => {
            store.getState().set({ trustLimit: v });
          }}
          tooltip={{ open: false }}
          ariaLabelForHandle="Trust limit"
        />
      </label>
      <dl className="ct-facts">
        <div>
          <dt>Least trust</dt>
          <dd>
            {figure(least, 2)}{' '}
            <button
              type="button"
              className="ct-shown-step"
              onClick={() => {
                store.getState().goTo(at);
              }}
            >
              at {at + 1}
            </button>
          </dd>
        </div>
        <div>
          <dt>Below the limit</dt>
          <dd>
            {below} <span>of {trust.length} frames</span>
          </dd>
        </div>
      </dl>
    </>
  );
}

/** Carries what is not carried yet. */
function CarryButton() {
  const store = useRoomStore();
  const trust = useRoom((s) => s.footage?.trust);
  const proxies = useRoom((s) => s.footage?.proxies);
  const working = useRoom((s) => s.working);
  const open = trust?.filter((v) => v === null).length ?? 0;
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
  if (open === 0) return <p className="ct-hint">Every frame has its depth.</p>;
  return (
    <Button
      type="primary"
      block
      disabled={!trust || working !== undefined}
      onClick={() => void store.getState().carry()}
    >
      Carry depth to {open} {open === 1 ? 'frame' : 'frames'}
    </Button>
  );
}
