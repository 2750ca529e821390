import { createStore, type StoreApi } from 'zustand/vanilla';
import type { RoomCore } from './core';

/** The interface follows a hand after so long at the latest, ms. */
const LATEST_MS = 80;

/**
 * A room's state as components see it. While a hand tries something the picture comes first: the interface is drawn
 * anew when the picture has been shown, so that it takes nothing from the workers that render it. What is under the hand
 * itself moves at once (`useLive`), and what the hand lets go is seen at once.
 */
export function paced(store: StoreApi<RoomCore>): StoreApi<RoomCore> {
  const seen = createStore<RoomCore>()(() => store.getState());
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const show = (): void => {
    clearTimeout(waiting);
    waiting = undefined;
    seen.setState(store.getState(), true);
  };
  store.subscribe((now, before) => {
    if (!now.underHand || !now.preview) show();
    else if (now.looks !== before.looks)
      // The frame with the new picture goes before.
      requestAnimationFrame(() => {
        setTimeout(show);
      });
    else if (now.document !== before.document) waiting ??= setTimeout(show, LATEST_MS);
    else if (waiting === undefined) show();
  });
  return seen;
}
