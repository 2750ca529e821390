'use client';

import type { ComponentType } from 'react';
import { useRoom, useRoomStore } from '../room/context';
import { Working } from './Working';

export interface WayOfWorking {
  readonly key: string;
  readonly name: string;
  readonly does: string;
  readonly Way: ComponentType;
  /** Only for shots that move. @default for all */
  readonly moving?: true;
  /** Only for stills. @default for all */
  readonly still?: true;
}

interface Props {
  /** The stage's key. */
  readonly stage: string;
  readonly ways: readonly WayOfWorking[];
  /** Closed ones are one line each, where there are many. @default false */
  readonly compact?: boolean;
}

/** A stage's ways of working, one of them open. */
export function Ways({ stage, ways, compact = false }: Props) {
  const store = useRoomStore();
  const opened = useRoom((s) => s.opened[stage]);
  const moves = useRoom((s) => s.document.footage !== null);
  return ways
    .filter(({ moving, still }) => (moves ? !still : !moving))
    .map(({ key, name, does, Way }) => (
      <Working
        key={key}
        compact={compact}
        name={name}
        does={does}
        open={opened === key}
        onOpen={() => {
          const { opened: now, set } = store.getState();
          set({ opened: { ...now, [stage]: key } });
        }}
      >
        <Way />
      </Working>
    ));
}
