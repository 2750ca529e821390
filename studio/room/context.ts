'use client';

import { createContext, useContext } from 'react';
import { useStore, type StoreApi } from 'zustand';
import type { RoomCore } from './core';

export const RoomContext = createContext<StoreApi<RoomCore> | undefined>(undefined);

/** The room's store itself, for work outside of rendering. */
export function useRoomStore(): StoreApi<RoomCore> {
  const store = useContext(RoomContext);
  if (!store) throw new Error('This part belongs into a room.');
  return store;
}

/** A part of the room's state. */
export function useRoom<T>(select: (state: RoomCore) => T): T {
  return useStore(useRoomStore(), select);
}

/** The same for the parts of a stage, which see the stage's slice too. */
export function sliceHooks<Slice extends object>() {
  type Seen = RoomCore & Slice & { set(part: Partial<RoomCore & Slice>): void };
  const useSliceStore = (): StoreApi<Seen> => useRoomStore() as unknown as StoreApi<Seen>;
  const useSlice = <T>(select: (state: Seen) => T): T => useStore(useSliceStore(), select);
  return { useSlice, useSliceStore };
}
