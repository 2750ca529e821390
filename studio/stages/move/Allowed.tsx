'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { useMove, useMoveStore } from './slice';
import { mostAllowed } from './watch';

/** Finds the largest strength of a ready move that leaves nothing to see, and takes it. */
export function Allowed({ kind }: { kind: string }) {
  const store = useMoveStore();
  const can = useMove((s) => s.preview !== undefined);
  const [looking, setLooking] = useState(false);
  const [found, setFound] = useState<{ readonly kind: string; readonly strength: number } | undefined>();
  const look = async (): Promise<void> => {
    setLooking(true);
    try {
      const strength = await mostAllowed(store.getState(), kind);
      setFound({ kind, strength });
      const s = store.getState();
      if (strength === 0 || s.document.move?.ready?.kind !== kind) return;
      s.makeReady(kind, strength);
      s.keep('As much as the picture allows');
    } catch (error) {
      store.getState().notify('error', `The move could not be looked through: ${(error as Error).message}`);
    } finally {
      setLooking(false);
    }
  };
  return (
    <>
      <Button block loading={looking} disabled={!can} onClick={() => void look()}>
        As much as the picture allows
      </Button>
      {found?.kind === kind && (
        <p className={found.strength === 0 ? 'ct-hint ct-warn' : 'ct-hint'} role="status">
          {found.strength === 0
            ? 'Even a little shows something: Guard says what, and what cures it.'
            : `Up to ${Math.round(found.strength * 100)} % nothing is open, dry or beyond comfort.`}
        </p>
      )}
    </>
  );
}
