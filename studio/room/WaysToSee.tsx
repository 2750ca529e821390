'use client';

import { WAYS, type Way } from '@/compute/look';
import { useRoom, useRoomStore } from './context';
import type { RoomCore } from './core';

export const WAY_NAMES: Record<Way, string> = {
  picture: 'Picture',
  depth: 'Depth',
  'depth-over-picture': 'Depth over picture',
  left: 'Left',
  right: 'Right',
  both: 'Both',
  glasses: 'Glasses',
  rock: 'Rock',
};

/** The ways to see, as words. */
export function WaysToSee() {
  const way = useRoom((s) => s.ways[s.stage]);
  const store = useRoomStore();
  return (
    <div className="ct-ways" role="radiogroup" aria-label="Ways to see">
      {WAYS.map((w) => (
        <button
          key={w}
          type="button"
          role="radio"
          aria-checked={w === way}
          className={w === way ? 'on' : ''}
          onClick={() => {
            seeAs(store.getState(), w);
          }}
        >
          {WAY_NAMES[w]}
        </button>
      ))}
    </div>
  );
}

/** Chooses a way to see; each stage remembers its own. */
export function seeAs(s: RoomCore, way: Way): void {
  s.set({ ways: { ...s.ways, [s.stage]: way }, flipped: false });
}
