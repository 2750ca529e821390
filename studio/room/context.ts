'use client';

import { createContext, useContext } from 'react';
import { useStore, type StoreApi } from 'zustand';
import type { RoomCore } from './core';

/** A room's store, and its state as components see it. */
export interface RoomStores {
  readonly store: StoreApi<RoomCore>;
  readonly seen: StoreApi<RoomCore>;
}

export const RoomContext = createContext<RoomStores | undefined>(undefined);

function useStores(): RoomStores {
  const stores = useContext(RoomContext);
  if (!stores) throw new Error('This part belongs into a room.');
  return stores;
}

/** The room's store itself, for work outside of rendering. */
export function useRoomStore(): StoreApi<RoomCore> {
  return useStores().store;
}

/** A part of the room's state. */
export function useRoom<T>(select: (state: RoomCore) => T): T {
  return useStore(useStores().seen, select);
}

/** The same for the parts of a stage, which see the stage's slice too. */
export function sliceHooks<Slice extends object>() {
  type Seen = RoomCore & Slice & { set(part: Partial<RoomCore & Slice>): void };
  const useSliceStore = (): StoreApi<Seen> => useRoomStore() as unknown as StoreApi<Seen>;
  const useSlice = <T>(select: (state: Seen) => T): T =>
    useStore(useStores().seen as unknown as StoreApi<Seen>, select);
  return { useSlice, useSliceStore };
}
