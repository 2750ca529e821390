import type { FootageState } from '../api';

/** Trust of every frame of a plate that is carried, or of depth; undefined where nothing is known of it. */
export function trustOf(state: FootageState | undefined, plate?: string): FootageState['trust'] | undefined {
  if (plate === undefined) return state?.trust;
  return state?.plates.find(({ id }) => id === plate)?.trust;
}

/** So many frames wait for what is carried: depth, and every plate. */
export const framesOpen = (state: FootageState): number =>
  [state.trust, ...state.plates.map(({ trust }) => trust)]
    .reduce(
      (open, trust) => open.map((v, n) => v || trust[n] === null),
      state.trust.map(() => false),
    )
    .filter(Boolean).length;
