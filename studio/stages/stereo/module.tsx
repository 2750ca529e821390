import { spanBudget } from '@/core/stereo/parallax';
import { signed } from '../../numbers';
import { sourceLens } from '../../viewer/flatLens';
import type { StageModule } from '../module';
import { BudgetTable } from './BudgetTable';
import { Head, WAYS } from './Panel';
import { SCRIPT, ScriptRow } from './ScriptRow';

/** How far in front of and behind the screen, for which screen; which view the source stands for; how edges part. */
export const stereo: StageModule = {
  key: 'stereo',
  name: 'Stereo',
  stands: ({ document: { budget, depth } }) => {
    const { nearPx, farPx } = spanBudget(budget, depth);
    return `${signed(nearPx, 0)} / ${signed(farPx, 0)} px`;
  },
  ways: WAYS,
  Head,
  seen: 'glasses',
  beginsWith: ({ untouched }) => !untouched,
  slice: () => ({}),
  tools: {},
  wrongWay: '',
  lens: sourceLens,
  Below: BudgetTable,
  Strip: { Row: ScriptRow, height: SCRIPT },
};
