import { isFlat } from '@/compute/look';
import { secondsOf } from '@/core/time/rate';
import { figure } from '../../numbers';
import { sourceLens } from '../../viewer/flatLens';
import type { StageModule } from '../module';
import { copyBead, putBead } from './beads';
import { findingsOf } from './found';
import { Head, WAYS } from './Panel';
import { Over } from './over/Over';
import { PlayRow } from './PlayRow';
import { reachOf } from './rest';
import { MovePlan } from './plan/MovePlan';
import { movedAsk, moveSlice, type MoveSlice } from './slice';
import { TimeStrip } from './strip/TimeStrip';

/** A camera that moves through the picture. */
export const move: StageModule<MoveSlice> = {
  key: 'move',
  name: 'Move',
  stands: ({ document, guarded }) => {
    const { move: made } = document;
    if (!made) return document.footage ? 'as filmed' : 'still';
    const see = guarded ? findingsOf(guarded.frames, document, made).length : 0;
    return `${figure(secondsOf(made.frames, made.fps), 1)} s${see > 0 ? `, ${see} to see` : ''}`;
  },
  ways: WAYS,
  Head,
  seen: 'picture',
  slice: moveSlice,
  tools: {},
  wrongWay: '',
  lens: (s) => {
    const way = s.ways[s.stage];
    if (way !== 'picture' && isFlat(way)) return sourceLens(s);
    return s.still ?? movedAsk(s, s.needle);
  },
  pictures: (s) => (s.beside !== null && s.document.keptMoves[s.beside] && s.document.move ? 2 : 1),
  eyes: (s) => s.still ?? movedAsk(s, s.needle),
  reach: (s) => reachOf(s.document),
  Over,
  Plan: MovePlan,
  Below: TimeStrip,
  Foot: PlayRow,
  onKey: (event, store) => {
    const s = store.getState();
    if (!s.document.move) return false;
    const commanded = event.ctrlKey || event.metaKey;
    if (commanded && event.key.toLowerCase() === 'c') copyBead(store);
    else if (commanded && event.key.toLowerCase() === 'v') putBead(store);
    else if (event.key === ' ') s.play(!s.playing);
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      if (event.target instanceof Element && event.target.closest('[role=slider]')) return false;
      s.play(false);
      s.seek(s.needle + (event.key === 'ArrowLeft' ? -1 : 1) * (event.shiftKey ? 10 : 1));
    } else return false;
    event.preventDefault();
    return true;
  },
  keys: [
    ['Space', 'play and pause'],
    ['Left, Right', 'a frame, with Shift ten'],
    ['Up, Down', 'on the needle: the bead before, the next'],
    ['Alt Left, Alt Right', 'move the bead by a frame'],
    ['+, −', 'stretch or squeeze the string at the bead; Shift drags so'],
    ['H', 'hold at the bead, let go'],
    ['Ctrl C, Ctrl V', 'copy the bead, put it at the needle; Ctrl drags a copy'],
    ['Delete', 'take the bead off'],
    ['Enter', 'open the string’s curve; Up, Down a value, Alt Left, Right a knot'],
  ],
};
