import { withKey } from '@/core/camera/editKeys';
import { poseAt } from '@/core/camera/move';
import type { CameraKey, MovePart } from '@/core/shot/document';
import type { StoreApi } from 'zustand';
import type { RoomCore } from '../../room/core';
import { beginMove, type MoveSlice } from './slice';

type Room = RoomCore & MoveSlice;

/** The bead at a frame; where there is none, what one would hold there so that the move stays as it is. */
export function keyAt(move: MovePart, frame: number): CameraKey {
  const there = move.keys.find((k) => k.frame === frame);
  if (there) return there;
  const before = [...move.keys].reverse().find((k) => k.frame <= frame) ?? move.keys[0];
  const after = move.keys.find((k) => k.frame > frame);
  // What it turns to by itself stays apart from pan and tilt.
  const aim = before.value.aim && (after?.value.aim ?? before.value.aim);
  const bare = {
    ...move,
    keys: move.keys.map((k) => ({ ...k, value: { ...k.value, aim: aim ? null : k.value.aim } })),
  };
  const { position, ...turned } = poseAt(bare, frame);
  return { frame, ease: before.ease, value: { ...turned, position: [...position] as [number, number, number], aim } };
}

/** Tries other values at the needle; a bead is set there where there is none. */
export function setAt(store: StoreApi<Room>, value: Partial<CameraKey['value']>, ease?: CameraKey['ease']): void {
  const s = store.getState();
  const now = s.document.move ?? beginMove(s.document);
  const held = keyAt(now, s.needle);
  const next: CameraKey = { ...held, ease: ease ?? held.ease, value: { ...held.value, ...value } };
  const keys = withKey(now.keys, next);
  s.tryMove({ keys });
  s.set({ bead: keys.indexOf(next) });
}

type Place = CameraKey['value']['position'];

/** Tries another place of one bead. */
export function placeBead(store: StoreApi<Room>, index: number, position: Place): void {
  const s = store.getState();
  const keys = (s.document.move ?? beginMove(s.document)).keys.map((key, n) =>
    n === index ? { ...key, value: { ...key.value, position } } : key,
  );
  s.tryMove({ keys });
}

/** Tries another aim: of all beads that share the one at the needle, and of that one. */
export function placeAim(store: StoreApi<Room>, aim: Place): void {
  const s = store.getState();
  const now = s.document.move ?? beginMove(s.document);
  const was = JSON.stringify(keyAt(now, s.needle).value.aim);
  const keys = now.keys.map((key) =>
    JSON.stringify(key.value.aim) === was ? { ...key, value: { ...key.value, aim } } : key,
  );
  s.tryMove({ keys });
}

/** Remembers the bead at the needle, or what one would hold there. */
export function copyBead(store: StoreApi<Room>): void {
  const s = store.getState();
  const { value, ease } = keyAt(s.document.move ?? beginMove(s.document), s.needle);
  s.set({ copied: { value, ease } });
  s.notify('info', `Copied the camera of frame ${s.needle + 1}.`);
}

/** Puts the bead that was copied at the needle. */
export function putBead(store: StoreApi<Room>): void {
  const s = store.getState();
  if (!s.copied || !s.document.move) return;
  const { value, ease } = s.copied;
  setAt(store, value, ease);
  s.keep(`Put a bead at frame ${s.needle + 1}`);
}
