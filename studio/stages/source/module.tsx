import { figure } from '../../numbers';
import { sourceLens } from '../../viewer/flatLens';
import type { StageModule } from '../module';
import { Head, WAYS } from './Panel';

/** The picture as it came. */
export const source: StageModule = {
  key: 'source',
  name: 'Source',
  stands: ({
    document: {
      footage,
      source: { width, height },
    },
  }) => (footage ? `${figure(footage.frames)} frames` : `${figure(width)} × ${figure(height)} px`),
  ways: WAYS,
  Head,
  seen: 'picture',
  slice: () => ({}),
  tools: {},
  wrongWay: '',
  lens: sourceLens,
};
