import { coverageOf, type Coverage } from '@/core/fill/coverage';
import { sceneOf } from '@/core/scene/sceneOf';
import type { ShotDocument } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import { shotRasters } from '../shots/platePixels';
import { task } from './task';

/** How far views run out of picture at the handed frame's edges, px at full size. */
export const coverage = task<{ readonly document: ShotDocument; readonly views: number }, Coverage>(
  async ({ document, views }) => {
    const { source, frame } = document;
    const rasters = await shotRasters(document);
    const found = coverageOf(sceneOf(document), rasters, eyePositions(views), 1);
    // What lies outside the frame may run dry.
    const left = frame ? frame.left : 0;
    const right = frame ? source.width - frame.left - frame.width : 0;
    return { ...found, left: Math.max(0, found.left - left), right: Math.max(0, found.right - right) };
  },
);
