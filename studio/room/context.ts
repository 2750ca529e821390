'use client';

import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { RoomState, RoomStore } from './state';

export const RoomContext = createContext<RoomStore | undefined>(undefined);

/** The room's store itself, for work outside of rendering. */
export function useRoomStore(): RoomStore {
  const store = useContext(RoomContext);
  if (!store) throw new Error('This part belongs into a room.');
  return store;
}

/** A part of the room's state. */
export function useRoom<T>(select: (state: RoomState) => T): T {
  return useStore(useRoomStore(), select);
}
