import { useRef } from 'react';
import type { RenderSummary } from '../api';

/** A render as it was when somebody first saw it at work. */
export interface Seen {
  readonly at: number;
  readonly progress: number;
}

/** So much must be done since then before a time can be told, of 1. */
const ENOUGH = 0.02;

/** Time left of a running render, s, from how fast it went since it was first seen; undefined while nobody can know. */
export function secondsLeft(
  { progress }: Pick<RenderSummary, 'progress'>,
  since: Seen,
  now: number,
): number | undefined {
  const done = progress - since.progress;
  const took = (now - since.at) / 1000;
  if (done < ENOUGH || took < 1) return undefined;
  return Math.max(1, Math.round((took * (1 - progress)) / done));
}

/** The time left of the renders that a component shows. A render that went on after a stop begins anew. */
export function useSecondsLeft(): (render: RenderSummary) => number | undefined {
  const seen = useRef(new Map<string, Seen>());
  return (render) => {
    if (render.state !== 'running') {
      seen.current.delete(render.id);
      return undefined;
    }
    const before = seen.current.get(render.id);
    if (before && render.progress >= before.progress) return secondsLeft(render, before, Date.now());
    seen.current.set(render.id, { at: Date.now(), progress: render.progress });
    return undefined;
  };
}
