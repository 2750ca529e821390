import { sourceLens } from '../../viewer/flatLens';
import type { StageModule } from '../module';
import { Crop } from './Crop';
import { Head } from './Panel';
import { Renders } from './Renders';
import { WAYS } from './ways';

/** What is handed over. */
export const output: StageModule = {
  key: 'output',
  name: 'Output',
  stands: ({ renders }) => {
    const done = renders.filter((r) => r.state === 'done').length;
    if (done === 0) return 'none yet';
    return `${done} ${done === 1 ? 'render' : 'renders'}`;
  },
  ways: WAYS,
  Head,
  seen: 'glasses',
  slice: () => ({}),
  tools: {},
  wrongWay: '',
  lens: sourceLens,
  Over: Crop,
  Below: Renders,
};
