import type { ShotDocument } from '@/core/shot/document';
import { bareRasters, isKept } from './bareRasters';
import { task } from './task';

/** Lays a shot out in a thread of the kind that fills, so that a fill that is asked for soon begins at once. */
export const readyFill = task<{ readonly document: ShotDocument }, object>(async ({ document }) => {
  if (isKept(document)) await bareRasters(document);
  return {};
});
