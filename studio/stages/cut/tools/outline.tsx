'use client';

import { useEffect, useRef, useState } from 'react';
import type { CurveNode } from '@/core/matte/curve';
import type { Point } from '@/core/raster/geometry';
import { Corners, Curve, OpenLine } from '../../../viewer/marks';
import { tenths, withoutTwins, type UseTool } from '../../../viewer/tool';
import { editedAt, shapeOutline } from '../choosing';
import { addCorner, dropCorner, holdAt, moveHold, nodeAt, shapeOf, type Hold } from '../nodes';
import { useCut, useCutStore } from '../slice';

/** How near the pen must come to a corner, css px. */
const REACH = 9;
/** Drawn with the button held, a corner is set every so many css px. */
const STEP = 5;

/** Outlines: corners, curves, rectangles and ellipses; and the corners of the one that is changed. */
export const useOutline: UseTool = ({ zoom, toScreen }) => {
  const store = useCutStore();
  const shape = useCut((s) => s.outlineShape);
  const at = useCut(editedAt);
  const edited = useCut((s) => shapeOf(s.choice.ingredients[editedAt(s)]));
  const [corners, setCorners] = useState<Point[]>([]);
  const [nodes, setNodes] = useState<CurveNode[]>([]);
  const [pen, setPen] = useState<Point | undefined>();
  const hold = useRef<Hold | undefined>(undefined);
  const pressed = useRef(false);
  const start = useRef<Point | undefined>(undefined);
  const last = useRef<Point | undefined>(undefined);
  const drawing = corners.length > 0 || nodes.length > 0;
  const editing = drawing ? undefined : edited;
  const boxed = shape === 'rectangle' || shape === 'ellipse';

  const clear = (): void => {
    setCorners([]);
    setNodes([]);
    hold.current = undefined;
    pressed.current = false;
  };
  useEffect(clear, [shape]);

  const close = (points: readonly Point[] = corners): void => {
    const s = store.getState();
    if (nodes.length > 0) {
      const kept = withoutTwins(nodes);
      if (kept.length < 2)
        s.notify(
          'info',
          'A curve needs at least two nodes. Press and draw its handles out; a double click or Enter closes it.',
        );
      else s.choose({ kind: 'curve', way: s.joining, nodes: kept });
    } else {
      const kept = withoutTwins(points);
      if (kept.length >= 3) s.choose({ kind: 'outline', way: s.joining, points: kept.map(tenths) });
      else if (kept.length > 0)
        s.notify(
          'info',
          'An outline needs at least three corners. Click them one after another; a double click or Enter closes it.',
        );
    }
    clear();
  };

  /** Takes hold of what lies under the pen; false where nothing does. */
  const takeHold = (place: Point, drops: boolean): boolean => {
    const found = editing && holdAt(editing, place, REACH / zoom);
    if (!editing || !found) return false;
    const s = store.getState();
    if (found.part === 'line') {
      s.changeIngredient(at, addCorner(editing, found));
      hold.current = { part: 'corner', n: found.n + 1 };
    } else if (drops && found.part === 'corner') {
      s.changeIngredient(at, dropCorner(editing, found.n));
      pressed.current = false;
    } else hold.current = found;
    return true;
  };

  return {
    down: (place, { altKey }) => {
      pressed.current = true;
      start.current = place;
      last.current = place;
      hold.current = undefined;
      if (takeHold(place, altKey)) return;
      if (shape === 'corners') setCorners((c) => [...c, place]);
      if (shape === 'curve') setNodes((c) => [...c, nodeAt(place, place)]);
    },
    move: (place, { altKey }) => {
      setPen(place);
      if (!pressed.current) return;
      if (hold.current && edited) {
        store.getState().changeIngredient(at, moveHold(edited, hold.current, place, altKey));
        return;
      }
      if (boxed && start.current) setCorners(shapeOutline(shape, start.current, place));
      else if (shape === 'curve')
        setNodes((c) => (c.length > 0 ? [...c.slice(0, -1), nodeAt(c[c.length - 1], place)] : c));
      else if (last.current && Math.hypot(place.x - last.current.x, place.y - last.current.y) * zoom > STEP) {
        last.current = place;
        setCorners((c) => [...c, place]);
      }
    },
    up: () => {
      if (pressed.current && boxed && corners.length > 2) close();
      pressed.current = false;
    },
    hover: setPen,
    doubleClick: () => {
      if (!boxed && drawing) close();
    },
    key: ({ key }) => {
      if (key === 'Enter' && drawing) close();
      else if (key === 'Escape' && drawing) clear();
      else if (key === 'Backspace' && drawing) {
        setCorners((c) => c.slice(0, -1));
        setNodes((c) => c.slice(0, -1));
      } else if ((key === 'Backspace' || key === 'Delete') && hold.current?.part === 'corner' && edited) {
        store.getState().changeIngredient(at, dropCorner(edited, hold.current.n));
        hold.current = undefined;
      } else return false;
      return true;
    },
    overlay: (
      <>
        {editing && <Corners shape={editing} to={toScreen} />}
        {corners.length > 0 && (
          <OpenLine
            points={[...corners, ...(pen && shape === 'corners' ? [pen] : [])].map(toScreen)}
            corners={shape === 'corners' ? corners.map(toScreen) : []}
          />
        )}
        {nodes.length > 0 && (
          <Curve
            nodes={pen && !pressed.current ? [...nodes, nodeAt(pen, pen)] : nodes}
            closed={false}
            to={toScreen}
            handles
          />
        )}
      </>
    ),
  };
};
