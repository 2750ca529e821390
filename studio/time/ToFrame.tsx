'use client';

import { useRoomStore } from '../room/context';

/** A frame that is named among words; a press goes there. @param word what stands before its number */
export function ToFrame({ frame, word }: { frame: number; word: string }) {
  const store = useRoomStore();
  return (
    <button
      type="button"
      className="ct-shown-step"
      onClick={() => {
        store.getState().goTo(frame);
      }}
    >
      {word} {frame + 1}
    </button>
  );
}
