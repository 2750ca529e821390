import type { WayOfWorking } from '../../../parts/Ways';
import { pair } from './pair';
import { sheet } from './sheet';
import { video } from './video';
import { views } from './views';

/** What is handed over, one recipe each. A new one is a file in this folder and a name in this list. */
export const WAYS: readonly WayOfWorking[] = [pair, views, sheet, video];
