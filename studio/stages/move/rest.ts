import type { StoreApi } from 'zustand';
import { parallaxReach, projectionOf, projectPoint } from '@/core/camera/projection';
import { poseAt } from '@/core/camera/move';
import { inverseDistance } from '@/core/camera/sourceCamera';
import { wholeScene } from '@/core/scene/sceneAt';
import type { ShotDocument } from '@/core/shot/document';
import type { RoomCore } from '../../room/core';
import type { MoveSlice } from './slice';

type Room = RoomCore & MoveSlice;

/** So long nothing may have moved before it is looked at closely, ms. */
const REST_MS = 260;

/** Says when the move rests. Returns what ends it. */
export function followRest(store: StoreApi<Room>): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const wait = (): void => {
    clearTimeout(timer);
    if (store.getState().rested) store.getState().set({ rested: false });
    timer = setTimeout(() => {
      if (!store.getState().playing) store.getState().set({ rested: true });
    }, REST_MS);
  };
  wait();
  const stop = store.subscribe((now, before) => {
    if (now.needle !== before.needle || now.document !== before.document || now.playing !== before.playing) wait();
  });
  return () => {
    clearTimeout(timer);
    stop();
  };
}

/** Moments of a move that tell how far it reaches. */
const MOMENTS = 9;
/** More room than this is not fetched around a window in detail, px. */
const MOST_REACH = 480;

/** How far anything of the picture moves, at most, px of the source: that much room a window in detail needs around it. */
export function reachOf(document: ShotDocument): number {
  const { move } = document;
  if (!move) return 0;
  const { camera, width, height } = wholeScene(document);
  let most = 0;
  for (let n = 0; n < MOMENTS; n++) {
    const projection = projectionOf(camera, poseAt(move, ((move.frames - 1) * n) / (MOMENTS - 1)));
    for (const at of [
      { x: 0, y: 0 },
      { x: width, y: 0 },
      { x: 0, y: height },
      { x: width, y: height },
    ]) {
      const seen = projectPoint(projection, at, inverseDistance(0, camera));
      if (seen) most = Math.max(most, Math.hypot(seen.x - at.x, seen.y - at.y));
    }
    most = Math.max(most, parallaxReach(projection, camera, { width, height }));
  }
  return Math.min(MOST_REACH, Math.ceil(most) + 8);
}
