'use client';

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { api, type Networks as Found } from '../../api';
import { useDepth, useDepthStore } from './slice';

/** Depth networks of the user's own, out of their folder. */
export function Networks() {
  const store = useDepthStore();
  const working = useDepth((s) => s.working);
  const [found, setFound] = useState<Found | undefined>();
  const [running, setRunning] = useState<string | undefined>();
  useEffect(() => {
    let gone = false;
    const look = (): void => {
      api.networks().then(
        (networks) => {
          if (!gone) setFound(networks);
        },
        () => undefined,
      );
    };
    look();
    // Whoever has just put a file into the folder comes back to the window.
    window.addEventListener('focus', look);
    return () => {
      gone = true;
      window.removeEventListener('focus', look);
    };
  }, []);
  const run = async (name: string): Promise<void> => {
    setRunning(name);
    await store.getState().runNetwork(name);
    setRunning(undefined);
  };
  if (!found) return null;
  return (
    <div className="ct-networks">
      <h3>A network of your own</h3>
      {found.networks.length === 0 && (
        <p className="ct-hint">
          An ONNX file in <code>{found.folder}</code> becomes one more way to start; docs/formats.md says what it needs
          beside it.
        </p>
      )}
      {found.networks.map(({ name, trouble }) => (
        <div key={name}>
          <Button
            block
            disabled={trouble !== null || (running !== undefined && running !== name)}
            loading={running === name}
            onClick={() => {
              void run(name);
            }}
          >
            {running === name ? `${name}, ${Math.round((working ?? 0) * 100)} %` : `Start with ${name}`}
          </Button>
          {trouble !== null && <p className="ct-hint">{trouble}</p>}
        </div>
      ))}
      {running !== undefined && (
        <Button
          block
          onClick={() => {
            store.getState().stopWork();
          }}
        >
          Stop
        </Button>
      )}
    </div>
  );
}
