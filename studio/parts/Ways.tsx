'use client';

import type { ComponentType } from 'react';
import { useRoom, useRoomStore } from '../room/context';
import type { Stage } from '../room/values';
import { Working } from './Working';

export interface WayOfWorking {
  readonly key: string;
  readonly name: string;
  readonly does: string;
  readonly Way: ComponentType;
}

/** A stage's ways of working, one of them open. @param compact closed ones are one line each, where there are many */
export function Ways({
  stage,
  ways,
  compact = false,
}: {
  stage: Stage;
  ways: readonly WayOfWorking[];
  compact?: boolean;
}) {
  const store = useRoomStore();
  const opened = useRoom((s) => s.opened[stage]);
  return ways.map(({ key, name, does, Way }) => (
    <Working
      key={key}
      compact={compact}
      name={name}
      does={does}
      open={opened === key}
      onOpen={() => {
        const { opened: now } = store.getState();
        store.getState().set({ opened: { ...now, [stage]: key } });
      }}
    >
      <Way />
    </Working>
  ));
}
