'use client';

import { Button, Progress } from 'antd';
import { useRoom, useRoomStore } from '../room/context';

/** How far the server is with long work, and a way to stop it; nothing while there is none. */
export function Underway({ of: workName }: { of: string }) {
  const store = useRoomStore();
  const working = useRoom((s) => s.working);
  if (working === undefined) return null;
  return (
    <div className="ct-cutting" role="status">
      <Progress percent={Math.round(working * 100)} size="small" aria-label={`Share of the ${workName} that is done`} />
      <Button
        size="small"
        onClick={() => {
          store.getState().stopWork();
        }}
      >
        Stop
      </Button>
    </div>
  );
}
