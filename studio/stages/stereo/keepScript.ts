import type { StoreApi } from 'zustand';
import type { Footage } from '@/core/shot/document';
import type { RoomCore } from '../../room/core';

/** Stores another depth script. */
export function keepScript(store: StoreApi<RoomCore>, script: Footage['script'], label: string): void {
  store.getState().settleMoment();
  store.getState().change(label, { footage: { script } });
}
