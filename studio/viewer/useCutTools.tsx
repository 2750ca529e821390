'use client';

import type { Point } from '@/core/raster/geometry';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { CurveNode } from '@/core/matte/curve';
import { useRoom, useRoomStore } from '../room/context';
import { addFlood, addHairStroke, addRegionStroke, shapeOutline } from './chooseTool';
import { Corners, Curve, HairStrokes, OpenLine, Rings, RoundMark, Trail } from './CutMarks';
import { addCorner, dropCorner, holdAt, moveHold, nodeAt, shapeOf, type Hold } from './nodes';
import type { PreviewControl } from './usePreview';

export type CutTool = 'outline' | 'trace' | 'flood' | 'region' | 'pieces' | 'hair' | 'place';

/** What the pen does in one stage: places in full-size px. */
export interface Hand {
  down(at: Point, e: { shiftKey: boolean; altKey: boolean; detail: number }): void;
  move(at: Point, e: { shiftKey: boolean; altKey: boolean }): void;
  up(at: Point): void;
  hover(at: Point | undefined): void;
  doubleClick(): void;
  readonly overlay: ReactNode;
  readonly cursor: string;
}

const NO_PIECES = { pieces: [], rings: [] };

/** How near the pen must come to a corner, css px, and how far an edge trace looks for an edge. */
const REACH = 9;
const SNAP = 10;

/** The pen in the cut stage: everything that adds to a choice, and its corners. */
export function useCutTools(
  tool: CutTool | undefined,
  zoom: number,
  toScreen: (p: Point) => Point,
  preview: PreviewControl,
): Hand {
  const store = useRoomStore();
  const drawnAs = useRoom((s) => s.outlineShape);
  const edited = useRoom((s) => shapeOf(s.choice.ingredients[s.editing ?? s.choice.ingredients.length - 1]));
  const editedAt = useRoom((s) => s.editing ?? s.choice.ingredients.length - 1);
  const region = useRoom((s) => s.region);
  const hairSize = useRoom((s) => s.hairSize);
  const grain = useRoom((s) => s.grain);
  const piece = useRoom((s) => s.document.plates.find((p) => p.id === s.active)?.piece);
  const [corners, setCorners] = useState<Point[]>([]);
  const [nodes, setNodes] = useState<CurveNode[]>([]);
  const [trail, setTrail] = useState<Point[]>([]);
  const [traced, setTraced] = useState<{ fixed: Point[]; anchors: Point[]; live: Point[] }>({
    fixed: [],
    anchors: [],
    live: [],
  });
  const [pen, setPen] = useState<Point | undefined>();
  /** Pieces under the pen, or all that it ran over since it was pressed. */
  const [gathered, setGathered] = useState<{ pieces: number[]; rings: Point[][] }>(NO_PIECES);
  const run = useRef<Point[]>([]);
  const hold = useRef<Hold | undefined>(undefined);
  const from = useRef<Point | undefined>(undefined);
  const pressed = useRef(false);
  const start = useRef<Point | undefined>(undefined);
  const asking = useRef(false);
  const latest = useRef({ corners, nodes, traced, trail, gathered });
  latest.current = { corners, nodes, traced, trail, gathered };
  const remote = (): NonNullable<PreviewControl['preview']['current']>['remote'] | undefined =>
    preview.preview.current?.remote;
  const shape = tool === 'outline' ? drawnAs : 'corners';
  const drawing = corners.length > 0 || nodes.length > 0 || traced.anchors.length > 0;

  const clear = (): void => {
    setCorners([]);
    setNodes([]);
    setTrail([]);
    setTraced({ fixed: [], anchors: [], live: [] });
    setGathered(NO_PIECES);
    run.current = [];
    hold.current = undefined;
    pressed.current = false;
  };
  useEffect(clear, [tool, shape]);

  const close = (): void => {
    const s = store.getState();
    const l = latest.current;
    if (l.nodes.length > 0) {
      const kept = l.nodes.filter((c, n, all) => n === 0 || Math.hypot(c.x - all[n - 1].x, c.y - all[n - 1].y) > 0.5);
      if (kept.length < 2)
        s.notify(
          'info',
          'A curve needs at least two nodes. Press and draw its handles out; a double click or Enter closes it.',
        );
      else s.choose({ kind: 'curve', way: s.joining, nodes: kept });
    } else if (l.traced.anchors.length > 0) {
      const points = l.traced.fixed;
      if (points.length < 3 || l.traced.anchors.length < 2)
        s.notify(
          'info',
          'An edge trace needs at least two places on the edge. Click them one after another; a double click or Enter closes it.',
        );
      else {
        const last = points[points.length - 1];
        const first = points[0];
        // Closed along the edge too, from the last place back to the first.
        void remote()
          ?.beginTrace(last.x, last.y, 1)
          .then(() => remote()?.traceTo(first.x, first.y, 1))
          .then((back) => {
            s.choose({
              kind: 'trace',
              way: s.joining,
              points: [...points, ...(back ?? []).slice(1, -1)].slice(0, 20_000),
            });
          });
      }
    } else {
      // The second press of a double click has set the last corner twice.
      const points = l.corners.filter(
        (p, n, all) => n === 0 || Math.hypot(p.x - all[n - 1].x, p.y - all[n - 1].y) > 0.5,
      );
      if (points.length < 3) {
        if (points.length > 0)
          s.notify(
            'info',
            'An outline needs at least three corners. Click them one after another; a double click or Enter closes it.',
          );
      } else
        s.choose({
          kind: 'outline',
          way: s.joining,
          points: points.map((p) => ({ x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 })),
        });
    }
    clear();
  };

  useEffect(() => {
    if (tool === undefined) return undefined;
    const onKey = (e: KeyboardEvent): void => {
      if (e.target instanceof HTMLElement && /^(INPUT|TEXTAREA)$/.test(e.target.tagName)) return;
      if (e.key === 'Enter' && drawing) close();
      else if (e.key === 'Escape' && drawing) clear();
      else if (e.key === 'Backspace' && drawing) {
        setCorners((c) => c.slice(0, -1));
        setNodes((c) => c.slice(0, -1));
        stepTraceBack();
      } else if ((e.key === 'Backspace' || e.key === 'Delete') && hold.current?.part === 'corner' && edited) {
        store.getState().changeIngredient(editedAt, dropCorner(edited, hold.current.n));
        hold.current = undefined;
      } else return;
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    document.addEventListener('keydown', onKey, { capture: true });
    return () => {
      document.removeEventListener('keydown', onKey, { capture: true });
    };
  });

  const stepTraceBack = (): void => {
    const { anchors, fixed } = latest.current.traced;
    if (anchors.length === 0) return;
    const left = anchors.slice(0, -1);
    const last = left[left.length - 1];
    const cut = last ? fixed.findIndex((p) => p.x === last.x && p.y === last.y) : -1;
    setTraced({ anchors: left, fixed: last ? fixed.slice(0, cut + 1) : [], live: [] });
    if (last) void remote()?.beginTrace(last.x, last.y, 1);
  };

  const anchor = async (at: Point): Promise<void> => {
    const link = remote();
    if (!link) return;
    const { anchors, fixed } = latest.current.traced;
    if (anchors.length === 0) {
      const p = await link.beginTrace(at.x, at.y, SNAP / zoom);
      setTraced({ fixed: [p], anchors: [p], live: [] });
      return;
    }
    const way = await link.traceTo(at.x, at.y, SNAP / zoom);
    if (way.length < 2) return;
    const end = way[way.length - 1];
    await link.beginTrace(end.x, end.y, 0.6);
    setTraced({ fixed: [...fixed, ...way.slice(1)], anchors: [...anchors, end], live: [] });
  };

  /** Asks for the pieces along the pen's way; places that come meanwhile wait and go together. */
  const gather = (): Promise<void> => {
    const link = remote();
    const path = run.current;
    if (!link || asking.current || path.length === 0) return Promise.resolve();
    asking.current = true;
    run.current = [];
    return link.piecesAlong(path, pressed.current ? latest.current.gathered.pieces : [], grain).then(
      (found) => {
        asking.current = false;
        latest.current.gathered = found;
        setGathered(found);
        if (run.current.length > 0) void gather();
      },
      () => {
        asking.current = false;
      },
    );
  };

  /** Takes the gathered pieces once the last answer is there. */
  const takePieces = (): void => {
    if (asking.current || run.current.length > 0) {
      void gather();
      setTimeout(takePieces, 15);
      return;
    }
    pressed.current = false;
    const s = store.getState();
    const { rings } = latest.current.gathered;
    if (rings.length > 0) s.choose({ kind: 'pieces', way: s.joining, rings: rings.slice(0, 3000) });
    setGathered(NO_PIECES);
  };

  const editing = edited && !drawing && tool === 'outline' ? edited : undefined;
  return {
    down: (at, e) => {
      const s = store.getState();
      pressed.current = true;
      start.current = from.current = at;
      hold.current = undefined;
      if (editing) {
        const found = holdAt(editing, at, REACH / zoom);
        if (found) {
          if (found.part === 'line') {
            s.changeIngredient(editedAt, addCorner(editing, found));
            hold.current = { part: 'corner', n: found.n + 1 };
          } else if (e.altKey && found.part === 'corner') {
            s.changeIngredient(editedAt, dropCorner(editing, found.n));
            pressed.current = false;
          } else hold.current = found;
          return;
        }
      }
      if (tool === 'outline' && shape === 'corners') setCorners((c) => [...c, at]);
      if (tool === 'outline' && shape === 'curve') setNodes((c) => [...c, nodeAt(at, at)]);
      if (tool === 'trace' && e.detail < 2) void anchor(at);
      if (tool === 'flood') addFlood(s, at);
      if (tool === 'region' || tool === 'hair') setTrail([at]);
      if (tool === 'pieces') {
        latest.current.gathered = NO_PIECES;
        run.current = [at];
        void gather();
      }
    },
    move: (at, e) => {
      setPen(at);
      const s = store.getState();
      if (!pressed.current) return;
      if (hold.current && edited) {
        s.changeIngredient(editedAt, moveHold(edited, hold.current, at, e.altKey));
        return;
      }
      if (tool === 'outline' && shape === 'curve')
        setNodes((c) => (c.length > 0 ? [...c.slice(0, -1), nodeAt(c[c.length - 1], at)] : c));
      else if (tool === 'outline' && shape === 'corners') {
        // Drawn with the button held, an outline follows the hand.
        if (from.current && Math.hypot(at.x - from.current.x, at.y - from.current.y) * zoom > 5) {
          from.current = at;
          setCorners((c) => [...c, at]);
        }
      } else if (tool === 'outline' && start.current && (shape === 'rectangle' || shape === 'ellipse'))
        setCorners(shapeOutline(shape, start.current, at));
      else if (tool === 'region' || tool === 'hair') setTrail((t) => [...t, at]);
      else if (tool === 'pieces') {
        run.current.push(at);
        void gather();
      } else if (tool === 'place' && piece && s.active && from.current) {
        const { placement } = piece;
        s.try({
          plates: [
            {
              id: s.active,
              placement: {
                ...placement,
                x: Math.round((placement.x + at.x - from.current.x) * 10) / 10,
                y: Math.round((placement.y + at.y - from.current.y) * 10) / 10,
              },
            },
          ],
        });
        from.current = at;
      }
    },
    up: () => {
      const s = store.getState();
      const l = latest.current;
      if (!pressed.current) return;
      pressed.current = false;
      if (tool === 'outline' && (shape === 'rectangle' || shape === 'ellipse') && l.corners.length > 2) close();
      if (tool === 'region' && l.trail.length > 0) addRegionStroke(s, l.trail);
      if (tool === 'hair' && l.trail.length > 0) addHairStroke(s, l.trail);
      if (tool === 'region' || tool === 'hair') setTrail([]);
      if (tool === 'pieces') {
        pressed.current = true;
        takePieces();
      }
      if (tool === 'place') s.keep('Place a plate');
    },
    hover: (at) => {
      setPen(at);
      if (!at) {
        setGathered(NO_PIECES);
        return;
      }
      if (tool === 'pieces' && !pressed.current) {
        run.current = [at];
        void gather();
      }
      if (tool === 'trace' && latest.current.traced.anchors.length > 0 && !asking.current) {
        asking.current = true;
        void remote()
          ?.traceTo(at.x, at.y, SNAP / zoom)
          .then(
            (live) => {
              asking.current = false;
              setTraced((t) => (t.anchors.length > 0 ? { ...t, live } : t));
            },
            () => {
              asking.current = false;
            },
          );
      }
    },
    doubleClick: () => {
      if (tool === 'trace' || (tool === 'outline' && (shape === 'corners' || shape === 'curve') && drawing)) close();
    },
    overlay: (
      <>
        {editing && <Corners shape={editing} to={toScreen} />}
        {pen && tool === 'region' && <RoundMark at={toScreen(pen)} zoom={zoom} size={region.size} says={region.side} />}
        {tool === 'hair' && <HairStrokes to={toScreen} zoom={zoom} />}
        {pen && tool === 'hair' && <RoundMark at={toScreen(pen)} zoom={zoom} size={hairSize} says="unsure" />}
        {trail.length > 0 && (
          <Trail
            points={trail.map(toScreen)}
            zoom={zoom}
            size={tool === 'hair' ? hairSize : region.size}
            dark={tool === 'region' && region.side === 'out'}
          />
        )}
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
        {traced.anchors.length > 0 && (
          <OpenLine points={[...traced.fixed, ...traced.live].map(toScreen)} corners={traced.anchors.map(toScreen)} />
        )}
        {tool === 'pieces' && gathered.rings.length > 0 && <Rings rings={gathered.rings} to={toScreen} />}
      </>
    ),
    cursor: tool === 'place' ? 'move' : 'crosshair',
  };
}
