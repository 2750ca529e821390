import equal from 'fast-deep-equal';
import { atMoment } from '@/core/shot/atMoment';
import { api, Refusal, type ShotState } from '../api';
import type { FilmActs, RoomCore } from '../room/core';
import { kept } from '../room/kept';
import type { Operation } from '../room/operations';
import { carriedBy } from './carriedBy';

/** What a film's acts need of the room. */
export interface FilmRoomParts {
  readonly shot: ShotState;
  get(): RoomCore;
  set(part: Partial<RoomCore> | ((s: RoomCore) => Partial<RoomCore>)): void;
  /** Stores what waits for the hand to rest. */
  settle(): void;
  push(operation: Operation): void;
  /** Follows long work of the server until what it gives is called. */
  followWork(): () => void;
}

const PLATE_KEY_LABELS = { set: 'Key of', drop: 'No key of', gone: 'Not seen:' } as const;

/** What can be done with a film, in any stage. */
export function filmActs({ shot, get, set, settle, push, followWork }: FilmRoomParts): FilmActs {
  return {
    goTo: (moment) => {
      const { footage } = get().document;
      if (footage) set({ moment: Math.min(footage.frames - 1, Math.max(0, Math.round(moment))) });
    },
    roll: (on) => {
      if (get().document.footage) set({ rolls: on });
    },
    settleMoment: () => {
      const { moment, document, footage, unstored } = get();
      if (!document.footage || document.source.moment === moment) return;
      // Strokes that are on their way belong to the map that they were painted on: it stays until they are stored.
      if (unstored.length > 0) return;
      settle();
      set({ document: atMoment(get().document, moment, carriedBy(footage, document)) });
    },
    takeFootage: (footage) => {
      if (equal(footage, get().footage)) return;
      set((s) => ({
        footage,
        // What was carried meanwhile is shown.
        document: kept(s.document, atMoment(s.document, s.document.source.moment ?? 0, carriedBy(footage, s.document))),
      }));
    },
    depthKey: (action) => {
      const { moment } = get();
      get().settleMoment();
      push({
        label: `${action === 'set' ? 'Depth' : 'No depth'} key at frame ${moment + 1}`,
        says: { action, moment },
        send: (at) => api.footageKey(shot.id, { ...at, moment }, { of: 'depth', action }),
      });
    },
    plateKey: (plate, action) => {
      const { moment, document } = get();
      get().settleMoment();
      const name = document.plates.find((p) => p.id === plate)?.name ?? 'a plate';
      push({
        label: `${PLATE_KEY_LABELS[action]} ${name} at frame ${moment + 1}`,
        says: { plate, action, moment },
        send: (at) => api.footageKey(shot.id, { ...at, moment }, { of: 'plate', plate, action }),
      });
    },
    carry: async (what) => {
      settle();
      const followed = followWork();
      try {
        await api.carry(shot.id, what);
      } catch (error) {
        const stopped = error instanceof Refusal && error.code === 'stopped';
        get().notify(stopped ? 'info' : 'error', (error as Error).message);
      } finally {
        followed();
        await api.footage(shot.id).then(get().takeFootage, () => undefined);
      }
    },
  };
}
