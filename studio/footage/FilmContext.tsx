'use client';

import { createContext, useContext, useEffect, useState, type ReactNode } from 'react';
import { useRoom, useRoomStore } from '../room/context';
import { Film } from './film';

const FilmContext = createContext<Film | undefined>(undefined);

/** The frames of the shot's footage, once the room has them; undefined for a still. */
export const useFilm = (): Film | undefined => useContext(FilmContext);

/** Holds the film of a room whose shot moves. */
export function FilmRoom({ children }: { children: ReactNode }) {
  const store = useRoomStore();
  const moves = useRoom((s) => s.document.footage !== null);
  const [film, setFilm] = useState<Film>();
  useEffect(() => {
    if (!moves) return undefined;
    const made = new Film(store);
    setFilm(made);
    return () => {
      setFilm(undefined);
      made.end();
    };
  }, [store, moves]);
  return <FilmContext.Provider value={film}>{children}</FilmContext.Provider>;
}
