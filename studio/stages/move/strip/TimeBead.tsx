import { useRef, type KeyboardEvent } from 'react';
import { spreadKeys, withKey, withKeyAt, withoutKey } from '@/core/camera/editKeys';
import type { CameraKey, MovePart } from '@/core/shot/document';
import { useMove, useMoveStore } from '../slice';
import { ROW, TOP } from './measures';
import { frameOf, xOf, type Ruler } from '../../../time/ruler';
import { stepOf } from '../../../time/step';

/** What a hand does with a bead along the string. */
type Way = 'move' | 'stretch' | 'copy';
const LABELS: Readonly<Record<Way, string>> = {
  move: 'Move a bead',
  stretch: 'Stretch the string',
  copy: 'Copy a bead',
};

/** A bead: dragged along the string; with Shift those before it spread along, with Ctrl a copy is dragged. */
export function TimeBead({ ruler, move, index }: { ruler: Ruler; move: MovePart; index: number }) {
  const store = useMoveStore();
  const chosen = useMove((s) => s.bead === index);
  const drag = useRef<{ readonly way: Way; readonly keys: readonly CameraKey[] } | undefined>(undefined);
  const key = move.keys[index];
  const x = xOf(ruler, key.frame);
  const y = TOP + ROW / 2;
  const choose = (): void => {
    const { set, seek, play } = store.getState();
    play(false);
    set({ bead: index });
    seek(move.keys[index].frame);
  };
  const go = (frame: number, way: Way, from: readonly CameraKey[]): void => {
    const { document, tryMove, seek, set } = store.getState();
    if (!document.move) return;
    const { frames } = document.move;
    if (way === 'copy') {
      const keys = withKey(from, { ...from[index], frame });
      tryMove({ keys });
      set({ bead: keys.findIndex((k) => k.frame === frame) });
      seek(frame);
      return;
    }
    const keys = way === 'stretch' ? spreadKeys(from, index, frame, frames) : withKeyAt(from, index, frame, frames);
    tryMove({ keys });
    seek(keys[index].frame);
  };
  const onKey = (e: KeyboardEvent): void => {
    const s = store.getState();
    // A key that is held comes again before this is drawn anew.
    const keys = s.document.move?.keys ?? move.keys;
    const now = keys[index];
    const step = stepOf(e);
    const stretch = { '+': 1, '=': 1, '-': -1 }[e.key];
    if (step !== undefined && e.altKey) {
      go(now.frame + step, 'move', keys);
      s.keepSoon(LABELS.move);
    } else if (stretch !== undefined && !e.ctrlKey && !e.metaKey) {
      // The first bead is pulled from the last: away from it is to the left.
      go(now.frame + (index === 0 ? -stretch : stretch), 'stretch', keys);
      s.keepSoon(LABELS.stretch);
    } else if (e.key.toLowerCase() === 'h' && !e.ctrlKey && !e.metaKey) {
      const ease = now.ease === 'hold' ? 'gentle' : 'hold';
      s.tryMove({ keys: keys.map((k, n) => (n === index ? { ...k, ease } : k)) });
      s.keep(ease === 'hold' ? 'Hold' : 'Let go');
    } else if (e.key === 'Enter') s.set({ curve: !s.curve });
    else if (e.key === 'Delete' && keys.length > 1) {
      s.tryMove({ keys: withoutKey(keys, index) });
      s.keep('Take a bead off');
      s.set({ bead: null });
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <g
      className={chosen ? 'ct-time-bead on' : 'ct-time-bead'}
      role="slider"
      tabIndex={0}
      aria-label={`Camera, bead ${index + 1}`}
      aria-valuemin={1}
      aria-valuemax={move.frames}
      aria-valuenow={key.frame + 1}
      aria-valuetext={`frame ${key.frame + 1}${key.ease === 'hold' ? ', held' : ''}`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        choose();
        const copies = e.ctrlKey || e.metaKey;
        const alone = e.shiftKey ? 'stretch' : 'move';
        drag.current = { way: copies ? 'copy' : alone, keys: move.keys };
      }}
      onPointerMove={(e) => {
        if (!drag.current) return;
        const { left } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
        const frame = frameOf(ruler, e.clientX - left);
        if (frame !== store.getState().needle) go(frame, drag.current.way, drag.current.keys);
      }}
      onPointerUp={() => {
        if (drag.current) store.getState().keep(LABELS[drag.current.way]);
        drag.current = undefined;
      }}
      onFocus={() => {
        if (store.getState().bead !== index && !drag.current) choose();
      }}
      onKeyDown={onKey}
    >
      <circle className="ct-time-hit" cx={x} cy={y} r={11} />
      {chosen && <circle className="ct-time-ring" cx={x} cy={y} r={9} />}
      <circle cx={x} cy={y} r={6} />
    </g>
  );
}
