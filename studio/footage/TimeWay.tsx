'use client';

import { Button, Input, InputNumber } from 'antd';
import { useState } from 'react';
import { footageRange, type Footage } from '@/core/shot/document';
import { api } from '../api';
import { useRoom, useRoomStore } from '../room/context';
import { ToFrame } from '../time/ToFrame';

/** In and out, marked frames, and the cuts that were found. */
export function TimeWay() {
  const footage = useRoom((s) => s.document.footage);
  if (!footage) return null;
  return (
    <>
      <Ends footage={footage} />
      <Markers footage={footage} />
      <Cuts />
      <Damaged />
    </>
  );
}

/** The part that is worked on and handed over, as numbers. */
function Ends({ footage }: { footage: Footage }) {
  const store = useRoomStore();
  const { first, last } = footageRange(footage);
  const field = (which: 'first' | 'last', label: string) => (
    <InputNumber
      size="small"
      aria-label={label}
      value={(which === 'first' ? first : last) + 1}
      min={which === 'first' ? 1 : first + 2}
      max={which === 'first' ? last : footage.frames}
      precision={0}
      onChange={(v) => {
        if (v === null) return;
        const range = { first, last, [which]: v - 1 };
        const all = range.first === 0 && range.last === footage.frames - 1;
        store.getState().change('In and out', { footage: { range: all ? null : range } });
      }}
    />
  );
  return (
    <div className="ct-field ct-field-three">
      <span>In, out</span>
      {field('first', 'First frame')}
      {field('last', 'Last frame')}
    </div>
  );
}

/** Frames that somebody has marked. */
function Markers({ footage: { markers } }: { footage: Footage }) {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  const [name, setName] = useState('');
  const marked = markers.some(({ frame }) => frame === moment);
  const keep = (next: Footage['markers'], label: string): void => {
    store.getState().change(label, { footage: { markers: [...next].sort((a, b) => a.frame - b.frame) } });
  };
  return (
    <>
      <ul className="ct-key-frames" aria-label="Marked frames" hidden={markers.length === 0}>
        {markers.map((marker) => (
          <li key={marker.frame} className="ct-marker">
            <button
              type="button"
              className={marker.frame === moment ? 'on' : ''}
              onClick={() => {
                store.getState().goTo(marker.frame);
              }}
            >
              <i aria-hidden className="ct-flag" />
              <span>{marker.name}</span>
              <small>{marker.frame + 1}</small>
            </button>
            <Button
              size="small"
              type="text"
              aria-label={`Take the mark ${marker.name} off`}
              onClick={() => {
                keep(
                  markers.filter((m) => m !== marker),
                  `Take off ${marker.name}`,
                );
              }}
            >
              ×
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="ct-mark-frame"
        onSubmit={(e) => {
          e.preventDefault();
          if (marked) return;
          const given = name.trim() || `Mark ${markers.length + 1}`;
          keep([...markers, { frame: moment, name: given }], `Mark frame ${moment + 1}`);
          setName('');
        }}
      >
        <Input
          size="small"
          placeholder="what is there"
          aria-label="Name of the mark"
          maxLength={60}
          value={name}
          onChange={(e) => {
            setName(e.target.value);
          }}
        />
        <Button size="small" htmlType="submit" disabled={marked}>
          Mark frame {moment + 1}
        </Button>
      </form>
    </>
  );
}

/** Where the film seems to cut: each scene can be a shot of its own. */
function Cuts() {
  const store = useRoomStore();
  const id = useRoom((s) => s.shot.id);
  const proxies = useRoom((s) => s.footage?.proxies);
  const [busy, setBusy] = useState(false);
  if (proxies && proxies.problem !== null)
    return (
      <p role="alert" className="ct-warn">
        {proxies.problem}
      </p>
    );
  if (!proxies || proxies.ready < proxies.frames)
    return <p className="ct-hint">The film is looked through for cuts.</p>;
  const { cuts } = proxies;
  if (cuts.length === 0) return <p className="ct-hint">No cut was found: it is one scene.</p>;
  return (
    <>
      <p className="ct-hint">
        It seems to cut at{' '}
        {cuts.map((frame, n) => (
          <span key={frame}>
            {n > 0 && ', '}
            <ToFrame frame={frame} word="frame" />
          </span>
        ))}
        . Depth is never carried over a cut.
      </p>
      <Button
        block
        loading={busy}
        onClick={() => {
          setBusy(true);
          api.splitFootage(id).then(
            ({ ids }) => {
              setBusy(false);
              store.getState().notify('info', `${ids.length} shots hang on the desk now, beside this one.`);
            },
            (error: unknown) => {
              setBusy(false);
              store.getState().notify('error', (error as Error).message);
            },
          );
        }}
      >
        Make {cuts.length + 1} shots of it
      </Button>
    </>
  );
}

/** From where on the file holds no pictures any more. */
function Damaged() {
  const from = useRoom((s) => s.footage?.proxies.damagedFrom ?? null);
  if (from === null) return null;
  return (
    <p role="alert" className="ct-warn">
      The file is damaged: from frame {from + 1} on the last whole picture stands.
    </p>
  );
}
