'use client';

import { Button, Input } from 'antd';
import { useEffect, useState } from 'react';
import { api } from '../../api';
import { DepthThumb } from './DepthThumb';
import { useDepth, useDepthStore } from './slice';

/** Every map that there was: looked at beside the one that is there, kept under a name, taken up again. */
export function StepsWay() {
  const store = useDepthStore();
  const id = useDepth((s) => s.shot.id);
  const head = useDepth((s) => s.shot.head);
  const active = useDepth((s) => s.active);
  const at = useDepth((s) => s.document.source.moment);
  const steps = useDepth((s) => s.steps);
  const kept = useDepth((s) => s.document.keptDepths);
  const versions = kept.filter((k) => k.plate === active);
  useEffect(() => {
    let gone = false;
    api.depthSteps(id, { plate: active, moment: at }).then(
      ({ steps: found }) => {
        if (!gone) store.getState().set({ steps: found });
      },
      (error: unknown) => {
        if (!gone) store.getState().notify('error', `The steps could not be read. ${(error as Error).message}`);
      },
    );
    return () => {
      gone = true;
    };
  }, [store, id, head, active, at]);
  useEffect(
    () => () => {
      const s = store.getState();
      if (s.wipe) s.setWipe(undefined);
      s.set({ steps: undefined });
    },
    [store, active],
  );
  // Another map has come, by undo or a step: the two are laid side by side on it.
  const fetched = useDepth((s) => s.rasterTicket);
  useEffect(() => {
    const s = store.getState();
    if (s.wipe) s.setWipe(s.wipe);
  }, [store, fetched]);
  if (!steps) return <p className="ct-hint">The steps are looked up.</p>;
  // A map that was made once more, the same, is the newest step's.
  const now = steps.at(-1)?.revision;
  return (
    <>
      <Keep />
      <ul className="ct-steps" aria-label="Kept versions">
        {versions.map((k) => (
          <Version
            key={k.id}
            name={k.name}
            revision={k.revision}
            fits
            now={now}
            drop={() => void store.getState().actOnVersions(`Drop ${k.name}`, { action: 'drop', kept: k.id })}
          />
        ))}
      </ul>
      <p className="ct-hint">
        Put one to the left or to the right and draw the line across the picture. Taking one up is a new step: nothing
        is lost.
      </p>
      <ul className="ct-steps" aria-label="Steps">
        {[...steps].reverse().map((step) => (
          <Version
            key={step.entry}
            name={step.label}
            at={step.at}
            revision={step.revision}
            fits={step.fits}
            now={now}
          />
        ))}
      </ul>
    </>
  );
}

/** Gives the map that is there a name. */
function Keep() {
  const store = useDepthStore();
  const [name, setName] = useState('');
  const keep = (): void => {
    const given = name.trim();
    if (given === '') return;
    const s = store.getState();
    void s.actOnVersions(`Keep ${given}`, { action: 'keep', plate: s.active, name: given });
    setName('');
  };
  return (
    <div className="ct-keep">
      <Input
        size="small"
        aria-label="Name of this version"
        placeholder="Name it"
        maxLength={60}
        value={name}
        onChange={({ target }) => {
          setName(target.value);
        }}
        onPressEnter={keep}
      />
      <Button size="small" disabled={name.trim() === ''} onClick={keep}>
        Keep
      </Button>
    </div>
  );
}

interface VersionProps {
  readonly name: string;
  readonly revision: string;
  readonly fits: boolean;
  /** The revision that is there. */
  readonly now: string | undefined;
  /** When a step was made. */
  readonly at?: string;
  /** Keeps it no longer. */
  drop?(): void;
}

function Version({ name, revision, fits, now, at, drop }: VersionProps) {
  const store = useDepthStore();
  const wipe = useDepth((s) => s.wipe);
  const here = revision === now;
  const set = (side: 'left' | 'right'): void => {
    const s = store.getState();
    const before = s.wipe ?? { left: null, right: null, at: 0.5 };
    const next = { ...before, [side]: before[side] === revision ? null : revision };
    s.setWipe(next.left === null && next.right === null ? undefined : next);
  };
  const side = (which: 'left' | 'right') => (
    <button
      type="button"
      aria-pressed={wipe?.[which] === revision}
      aria-label={`${name} to the ${which}`}
      disabled={!fits}
      onClick={() => {
        set(which);
      }}
    >
      {which}
    </button>
  );
  return (
    <li className={here ? 'on' : ''}>
      <DepthThumb revision={revision} fits={fits} />
      <span>
        <b title={name}>{name}</b>
        <small>
          {here && 'as it is'}
          {!here && !fits && 'before the canvas grew'}
          {!here && fits && at && new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}
        </small>
        <span className="ct-step-acts">
          {side('left')}
          {side('right')}
          {!here && (
            <button
              type="button"
              aria-label={`Take up ${name}`}
              disabled={!fits}
              onClick={() => {
                const s = store.getState();
                s.setWipe(undefined);
                void s.actOnVersions(`Take up ${name}`, { action: 'take', plate: s.active, revision });
              }}
            >
              take up
            </button>
          )}
          {drop && (
            <button type="button" aria-label={`Drop ${name}`} onClick={drop}>
              drop
            </button>
          )}
        </span>
      </span>
    </li>
  );
}
