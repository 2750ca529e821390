import type { RenderSummary } from '../api';

/** Time left of a running render, s, from what it took so far; undefined while nobody can know. */
export function secondsLeft(render: RenderSummary, now = Date.now()): number | undefined {
  if (render.state !== 'running' || render.startedAt === null || render.progress < 0.05) return undefined;
  const took = (now - Date.parse(render.startedAt)) / 1000;
  return Math.max(1, Math.round((took * (1 - render.progress)) / render.progress));
}
