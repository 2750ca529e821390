import { mixNumbers, sample, type Mix } from '../../time/track';
import type { z } from 'zod';
import type { Footage } from './footage';
import type { budgetSchema } from './stereo';

type Budget = z.infer<typeof budgetSchema>;
export type ScriptKey = Footage['script'][number];

const mixBudgets: Mix<Budget> = (from, to, share) => ({
  nearPx: mixNumbers(from.nearPx, to.nearPx, share),
  farPx: mixNumbers(from.farPx, to.farPx, share),
});

/** How much depth there is at a frame, by the depth script: its keys, eased. @param script at least one key */
export function budgetAt(script: readonly ScriptKey[], moment: number): Budget {
  const keys = script.map(({ frame, ease, budget }) => ({ frame, ease, value: budget }));
  return sample({ keys }, moment, mixBudgets);
}

/** The script with other depth at a frame: its key is changed, or a new one set. */
export function withBudgetAt(script: readonly ScriptKey[], moment: number, budget: Budget): ScriptKey[] {
  const known = script.find(({ frame }) => frame === moment);
  if (known) return script.map((key) => (key === known ? { ...key, budget } : key));
  const before = script.filter(({ frame }) => frame < moment).pop();
  return [...script, { frame: moment, ease: before?.ease ?? 'gentle', budget }].sort((a, b) => a.frame - b.frame);
}

/** The script with a key at another frame, as far as its neighbours leave it room. @param frames how many there are */
export function withKeyMoved(
  script: readonly ScriptKey[],
  index: number,
  { frame, frames }: { readonly frame: number; readonly frames: number },
): ScriptKey[] {
  const first = index > 0 ? script[index - 1].frame + 1 : 0;
  const last = index < script.length - 1 ? script[index + 1].frame - 1 : frames - 1;
  const at = Math.min(last, Math.max(first, Math.round(frame)));
  return script.map((key, n) => (n === index ? { ...key, frame: at } : key));
}
