'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';
import { useCutStore as useRoomStore } from './slice';

/** Naming plates before they are cut. */
export function Plan() {
  const store = useRoomStore();
  const [name, setName] = useState('');
  const plan = (): void => {
    if (name.trim() !== '') {
      store.getState().plan(name.trim());
      setName('');
    }
  };
  return (
    <>
      <p className="ct-hint">
        A planned plate hangs on the board as an empty card. Click a card to cut into it, in any order.
      </p>
      <Input
        value={name}
        maxLength={60}
        placeholder="Name of the plate"
        aria-label="Name of a planned plate"
        onChange={(e) => {
          setName(e.target.value);
        }}
        onPressEnter={plan}
      />
      <Button block disabled={name.trim() === ''} onClick={plan}>
        Plan this plate
      </Button>
    </>
  );
}
