'use client';

import type { WayToCombine } from '@/core/matte/combine';
import { Choice as Words } from '../../parts/Choice';
import { useCut as useRoom, useCutStore as useRoomStore } from './slice';

export const JOINING_WORDS: Record<WayToCombine, string> = { add: 'Add', take: 'Take', intersect: 'Both' };
export const JOINING = (['add', 'take', 'intersect'] as const).map((value) => ({ value, label: JOINING_WORDS[value] }));

/** How what is chosen next joins the choice. */
export function Joining() {
  const store = useRoomStore();
  const joining = useRoom((s) => s.joining);
  return (
    <Words<WayToCombine>
      label="Joins the choice"
      value={joining}
      onChange={(v) => {
        store.getState().set({ joining: v });
      }}
      options={JOINING}
    />
  );
}
