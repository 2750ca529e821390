import { useState } from 'react';

/**
 * A value under the hand: what it was just set to, as long as the room still says what it said then.
 * @returns what to show, how to set it, and how to let it go
 */
export function useLive(value: number): [shown: number, set: (live: number) => void, letGo: () => void] {
  const [live, setLive] = useState<{ readonly before: number; readonly now: number } | undefined>();
  const holds = live?.before === value;
  // For good: the room may come back to the same value, by undo.
  if (live && !holds) setLive(undefined);
  const shown = holds ? live.now : value;
  return [
    shown,
    (now) => {
      setLive({ before: value, now });
    },
    () => {
      setLive(undefined);
    },
  ];
}
