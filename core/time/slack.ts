import { curveOf, type Ease } from './ease';

/** An ease as slack: so many frames it takes to get going, and to come to rest. Taut (0): it begins or ends at full speed. */
export interface Slack {
  readonly out: number;
  readonly in: number;
}

/** The slack of an ease over so many frames from one key to the next. */
export function slackOf(ease: Ease, frames: number): Slack {
  if (ease === 'hold') return { out: 0, in: 0 };
  const [x1, , x2] = curveOf(ease);
  return { out: x1 * frames, in: (1 - x2) * frames };
}

/** The ease with another slack at one end; a held one is let go. The other end stays as it is. */
export function withSlack(ease: Ease, frames: number, end: keyof Slack, slack: number): Ease {
  const [x1, y1, x2, y2] = curveOf(ease === 'hold' ? 'linear' : ease);
  const share = Math.round(Math.min(1, Math.max(0, slack / frames)) * 1000) / 1000;
  return end === 'out' ? [share, 0, x2, y2] : [x1, y1, Number((1 - share).toFixed(3)), 1];
}
