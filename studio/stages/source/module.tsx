import { figure } from '../../numbers';
import { contourStep } from '../../viewer/contours';
import type { StageModule } from '../module';
import { Head, WAYS } from './Panel';

/** The picture as it came. */
export const source: StageModule = {
  key: 'source',
  name: 'Source',
  stands: ({
    document: {
      source: { width, height },
    },
  }) => `${figure(width)} × ${figure(height)} px`,
  ways: WAYS,
  Head,
  seen: 'picture',
  slice: () => ({}),
  tools: {},
  wrongWay: '',
  lens: (s) => ({
    lens: 'source',
    way: s.ways.source as 'picture',
    strength: s.depthStrength,
    contourPx: contourStep(s.document.budget),
    active: null,
  }),
};
