'use client';

import { Modal } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { isFlat, WAYS, type Way } from '@/compute/look';
import type { CameraControl } from '../viewer/useCamera';
import { useRoomStore } from './context';
import type { RoomCore } from './core';
import { STAGES, stageOf } from '../stages';
import { seeAs } from './WaysToSee';

/** Our own set, for one hand on the pen and one at the left of the keyboard. */
const SHEET: readonly (readonly [string, string])[] = [
  ['1 to 8', 'ways to see, from Picture to Rock'],
  ['hold E', 'the other eye, or depth for picture'],
  ['hold A', 'drag the picture along'],
  ...STAGES.flatMap(({ name, keys = [] }) => keys.map(([key, does]) => [key, `in ${name}: ${does}`] as const)),
  ['Space', 'of moving pictures: play and pause'],
  ['Left, Right', 'of moving pictures: a frame, with Shift ten'],
  ['X', 'mark what is revealed'],
  ['wheel', 'zoom at the pointer'],
  ['F', 'fit the picture'],
  ['G', 'one picture pixel on one screen pixel'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z, Ctrl Y', 'redo'],
  ['Enter, Escape, Backspace', 'close an outline, drop it, take back its last corner'],
  ['?', 'this sheet'],
];

const typing = (e: KeyboardEvent): boolean =>
  e.target instanceof HTMLElement && e.target.closest('input, textarea, [contenteditable], .ant-modal') !== null;
/**
 * A letter in a field of numbers is no part of its value: it stays a key, so that a hand that has typed a number need
 * not leave the field first.
 */
const letterAmongNumbers = (e: KeyboardEvent): boolean =>
  /^[a-z]$/i.test(e.key) &&
  e.target instanceof HTMLInputElement &&
  e.target.role === 'spinbutton' &&
  e.target.closest('.ant-modal') === null;

/** Keys of footage: play, a frame, ten. @returns true where it was one */
function rollKey(e: KeyboardEvent, s: RoomCore): boolean {
  // What has keys of its own keeps them; a button is pressed by Space.
  const taken = e.key === ' ' ? 'button, a, [role=button]' : '[role=slider], [role=radio], [role=tab], [role=menu]';
  if (e.target instanceof Element && e.target.closest(taken)) return false;
  const step = e.shiftKey ? 10 : 1;
  if (e.key === ' ') s.roll(!s.rolls);
  else if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
    s.roll(false);
    s.goTo(s.moment + (e.key === 'ArrowLeft' ? -step : step));
  } else return false;
  return true;
}

/** What the flip key shows while it is held: depth for the picture and the other way round, an eye for both. */
function flippedWay(way: Way): Way {
  if (!isFlat(way)) return 'left';
  return way === 'picture' ? 'depth' : 'picture';
}

export function useShortcuts(camera: CameraControl | undefined): { open: boolean; close(): void } {
  const store = useRoomStore();
  const [open, setOpen] = useState(false);
  const held = useRef(camera);
  held.current = camera;
  useEffect(() => {
    let before: Way | undefined;
    const down = (e: KeyboardEvent): void => {
      const s = store.getState();
      const key = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && (key === 'z' || key === 'y')) {
        if (
          typing(e) &&
          e.target instanceof HTMLInputElement &&
          e.target.type === 'text' &&
          e.target.value !== e.target.defaultValue
        )
          return;
        e.preventDefault();
        s.step(key === 'y' || e.shiftKey ? 'redo' : 'undo');
        return;
      }
      // What a stage copies and puts; text that is marked or typed is the browser's.
      if (
        (e.ctrlKey || e.metaKey) &&
        (key === 'c' || key === 'v') &&
        !typing(e) &&
        getSelection()?.isCollapsed !== false
      )
        stageOf(s.stage).onKey?.(e, store as never);
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      if (letterAmongNumbers(e)) e.preventDefault();
      else if (typing(e)) return;
      const way = s.ways[s.stage];
      if (key === '?') setOpen(true);
      else if (/^[1-8]$/.test(key)) seeAs(s, WAYS[Number(key) - 1]);
      else if (key === 'e' && !e.repeat) {
        if (way === 'left' || way === 'right') s.set({ flipped: true });
        else if (way !== 'rock') {
          before = way;
          s.set({ ways: { ...s.ways, [s.stage]: flippedWay(way) } });
        }
      } else if (stageOf(s.stage).onKey?.(e, store as never)) return;
      else if (s.document.footage && rollKey(e, s)) e.preventDefault();
      else if (key === 'x') s.set({ markReveal: !s.markReveal });
      else if (key === 'f') held.current?.fit();
      else if (key === 'g') held.current?.toPixels();
      else if (e.key === '+' || e.key === '=') held.current?.zoomBy(1.25);
      else if (e.key === '-') held.current?.zoomBy(0.8);
    };
    const up = (e: KeyboardEvent): void => {
      const s = store.getState();
      stageOf(s.stage).onKeyUp?.(e, store as never);
      if (e.key.toLowerCase() !== 'e') return;
      if (before !== undefined) s.set({ ways: { ...s.ways, [s.stage]: before } });
      else if (s.flipped && s.ways[s.stage] !== 'rock') s.set({ flipped: false });
      before = undefined;
    };
    document.addEventListener('keydown', down);
    document.addEventListener('keyup', up);
    return () => {
      document.removeEventListener('keydown', down);
      document.removeEventListener('keyup', up);
    };
  }, [store]);
  return {
    open,
    close: () => {
      setOpen(false);
    },
  };
}

export function ShortcutSheet({ open, onClose }: { open: boolean; onClose(): void }) {
  return (
    <Modal open={open} onCancel={onClose} footer={null} title="Keys" destroyOnHidden width={440}>
      <dl className="ct-keys">
        {SHEET.map(([keys, what]) => (
          <div key={keys}>
            <dt>{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
