'use client';

import type { ReactNode } from 'react';
import { useRoom, useRoomStore } from '../room/context';

interface FrameListProps {
  readonly label: string;
  /** Frames from 0, and what is said of each. */
  readonly frames: readonly { readonly frame: number; readonly says: ReactNode }[];
}

/** Frames of a film that have something of their own; a press goes there. */
export function FrameList({ label, frames }: FrameListProps) {
  const store = useRoomStore();
  const moment = useRoom((s) => s.moment);
  return (
    <ul className="ct-key-frames" aria-label={label}>
      {frames.map(({ frame, says }) => (
        <li key={frame}>
          <button
            type="button"
            className={frame === moment ? 'on' : ''}
            onClick={() => {
              store.getState().goTo(frame);
            }}
          >
            <i aria-hidden />
            <span>
              frame <b>{frame + 1}</b>
            </span>
            <small>{says}</small>
          </button>
        </li>
      ))}
    </ul>
  );
}
