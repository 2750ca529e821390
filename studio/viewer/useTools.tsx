'use client';

import type { Point } from '@/core/raster/geometry';
import {
  useCallback,
  useEffect,
  useRef,
  useState,
  type PointerEvent as PenEvent,
  type ReactNode,
  type WheelEvent,
} from 'react';
import type { StrokePoint } from '@/core/depth/brush';
import { parallaxOf } from '@/core/stereo/parallax';
import { spanBudget } from '@/core/stereo/parallax';
import { figure, signed } from '../numbers';
import { useRoom, useRoomStore } from '../room/context';
import type { RoomState } from '../room/state';
import type { CameraControl } from './useCamera';
import { OpenLine } from './CutMarks';
import { useCutTools, type CutTool } from './useCutTools';
import { useFillTools, type FillTool } from './useFillTools';
import { lookRequest, paintsBehind, stereoPart, type PreviewControl } from './usePreview';

/** What a press on the picture does. */
export type Tool = 'pan' | 'paint' | 'ramp' | 'outline' | 'cut' | 'fill';

/** The way of filling by hand that the pen works in, in the fill stage. */
export function fillToolOf(s: Pick<RoomState, 'stage' | 'opened'>): FillTool | undefined {
  const way = s.opened.fill;
  return s.stage === 'fill' && (way === 'clone' || way === 'copy' || way === 'line' || way === 'erase')
    ? way
    : undefined;
}

/** The way of choosing that the pen works in, in the cut stage. */
export function cutToolOf(s: Pick<RoomState, 'stage' | 'opened' | 'active' | 'document'>): CutTool | undefined {
  if (s.stage !== 'cut') return undefined;
  switch (s.opened.cut) {
    case 'outline':
    case 'trace':
    case 'flood':
    case 'region':
    case 'pieces':
      return s.opened.cut;
    case 'edge':
      return 'hair';
    case 'bring':
      return s.document.plates.some((p) => p.id === s.active && p.piece !== null && !p.locked && !p.hidden)
        ? 'place'
        : undefined;
    default:
      return undefined;
  }
}

export function toolOf(s: Pick<RoomState, 'stage' | 'opened' | 'active' | 'document'>): Tool {
  if (s.stage === 'cut') return cutToolOf(s) ? 'cut' : 'pan';
  if (s.stage === 'fill') return fillToolOf(s) ? 'fill' : 'pan';
  if (s.stage !== 'depth') return 'pan';
  const open = s.opened.depth;
  return open === 'paint' || open === 'ramp' || open === 'outline' ? open : 'pan';
}

/** Which depth a stroke lands on. */
const targetOf = (s: RoomState): string | null => (paintsBehind(s) ? 'behind' : s.active);

/** The pen on the picture: panning, painting, ramps and outlines, and what is drawn over the picture meanwhile. */
export function useTools(
  control: CameraControl,
  preview: PreviewControl,
): {
  handlers: {
    onPointerDown(e: PenEvent): void;
    onPointerMove(e: PenEvent): void;
    onPointerUp(e: PenEvent): void;
    onPointerCancel(e: PenEvent): void;
    onPointerLeave(): void;
    onDoubleClick(): void;
    onWheel(e: WheelEvent): void;
  };
  overlay: ReactNode;
  cursor: string;
} {
  const store = useRoomStore();
  const tool = useRoom(toolOf);
  const cutTool = useRoom(cutToolOf);
  const fillTool = useRoom(fillToolOf);
  const brush = useRoom((s) => s.brush);
  const { camera } = control;
  const [pointer, setPointer] = useState<Point | undefined>();
  const [line, setLine] = useState<{ from: Point; to: Point } | undefined>();
  const [outline, setOutline] = useState<Point[]>([]);
  const [panning, setPanning] = useState(false);
  const drag = useRef<{ kind: Tool; x: number; y: number; points: StrokePoint[] } | undefined>(undefined);
  const latest = useRef({ camera, outline });
  latest.current = { camera, outline };

  const onScreen = (p: Point): Point => ({ x: (p.x - camera.x) * camera.zoom, y: (p.y - camera.y) * camera.zoom });
  const cutHand = useCutTools(cutTool, camera.zoom, onScreen, preview);
  const fillHand = useFillTools(fillTool, camera.zoom, onScreen);
  const cut = tool === 'fill' ? fillHand : cutHand;
  const handed = tool === 'cut' || tool === 'fill';

  const toPicture = (e: { clientX: number; clientY: number; currentTarget: Element }): Point => {
    const box = e.currentTarget.getBoundingClientRect();
    const { zoom, x, y } = latest.current.camera;
    return { x: x + (e.clientX - box.left) / zoom, y: y + (e.clientY - box.top) / zoom };
  };

  /** Strokes land on the source; where the picture shown is not the source's own view, say so instead. */
  const mayWork = (): boolean => {
    const s = store.getState();
    const way = s.ways[s.stage];
    if (way === 'picture' || way === 'depth' || way === 'depth-over-picture') return true;
    s.notify(
      'info',
      s.stage === 'fill'
        ? 'Filling is done on the plates themselves. Choose Picture above.'
        : s.stage === 'cut'
          ? 'Plates are cut from the source. Choose Picture, Depth or Depth over picture above.'
          : 'Depth is painted on the source. Choose Picture, Depth or Depth over picture above; the eyes follow.',
    );
    return false;
  };

  /** A stroke on a plate that cannot take it says so. */
  const mayPaint = (): boolean => {
    const s = store.getState();
    const plate = s.document.plates.find((p) => p.id === s.active);
    const why = !plate
      ? undefined
      : plate.hidden
        ? `${plate.name} lies face down: hidden. Turn its card over to paint on it.`
        : plate.locked
          ? `${plate.name} is locked. Unlock it on its card to paint on it.`
          : plate.matte === null
            ? `${plate.name} is only planned. Cut it first; then it has a depth to paint on.`
            : undefined;
    if (why) s.notify('info', why);
    return !why;
  };

  // Points wait here for the worker, and go there together: one message a frame, however fast the pen reports.
  const queued = useRef<StrokePoint[]>([]);
  const sending = useRef(false);
  const flush = useCallback(() => {
    const remote = preview.preview.current?.remote;
    if (sending.current || queued.current.length === 0 || !remote) return;
    sending.current = true;
    const points = queued.current;
    queued.current = [];
    const began = performance.now();
    void remote.addPoints(points, lookRequest(store.getState())).then((look) => {
      preview.take(look);
      performance.measure('stroke-shown', { start: began });
      sending.current = false;
      flush();
    });
  }, [preview, store]);

  const sample = (e: PointerEvent, box: DOMRect): StrokePoint => {
    const { zoom, x, y } = latest.current.camera;
    const round = (v: number): number => Math.round(v * 100) / 100;
    // A mouse has no pressure of its own; it always presses in full.
    return {
      x: round(x + (e.clientX - box.left) / zoom),
      y: round(y + (e.clientY - box.top) / zoom),
      pressure: e.pointerType === 'pen' ? Math.round(e.pressure * 1000) / 1000 : 1,
    };
  };

  const down = (e: PenEvent): void => {
    const wanted: Tool = e.button === 1 || e.buttons === 4 || panKeyHeld() ? 'pan' : e.button === 0 ? tool : 'pan';
    if (e.button === 2) return;
    if (wanted !== 'pan' && (!mayWork() || ((store.getState().stage === 'depth' || wanted === 'fill') && !mayPaint())))
      return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const at = toPicture(e);
    drag.current = { kind: wanted, x: e.clientX, y: e.clientY, points: [] };
    if (wanted === 'pan') setPanning(true);
    if (wanted === 'paint') {
      void preview.preview.current?.remote.beginStroke(store.getState().brush, targetOf(store.getState()));
      extend(e);
    }
    if (wanted === 'ramp') setLine({ from: at, to: at });
    if (wanted === 'outline') setOutline((points) => [...points, at]);
    if (wanted === 'cut' || wanted === 'fill') cut.down(at, e);
  };

  const extend = (e: PenEvent): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const events = e.nativeEvent.getCoalescedEvents?.() ?? [];
    const points = (events.length > 0 ? events : [e.nativeEvent]).map((n) => sample(n, box));
    drag.current?.points.push(...points);
    queued.current.push(...points);
    flush();
  };

  const asking = useRef(false);
  const hover = (at: Point): void => {
    if (asking.current) return;
    asking.current = true;
    void preview.preview.current?.remote.depthAt(at.x, at.y, stereoPart(store.getState().document)).then((d) => {
      asking.current = false;
      store.getState().set({ hoverDepth: d });
    });
  };

  const move = (e: PenEvent): void => {
    const at = toPicture(e);
    setPointer(at);
    const d = drag.current;
    if (!d) {
      hover(at);
      if (handed) cut.hover(at);
      return;
    }
    if (d.kind === 'pan') {
      control.panBy(e.clientX - d.x, e.clientY - d.y);
      d.x = e.clientX;
      d.y = e.clientY;
    } else if (d.kind === 'paint') extend(e);
    else if (d.kind === 'cut' || d.kind === 'fill') cut.move(at, e);
    // Drawn with the button held, an outline follows the hand.
    else if (d.kind === 'outline' && Math.hypot(e.clientX - d.x, e.clientY - d.y) > 5) {
      d.x = e.clientX;
      d.y = e.clientY;
      setOutline((points) => [...points, at]);
    } else if (d.kind === 'ramp') setLine((l) => (l ? { ...l, to: e.shiftKey ? straight(l.from, at) : at } : l));
  };

  const up = (): void => {
    const d = drag.current;
    drag.current = undefined;
    setPanning(false);
    if (!d) return;
    const s = store.getState();
    const remote = preview.preview.current?.remote;
    if (d.kind === 'paint' && d.points.length > 0) {
      const { mode, depth, size, hardness, strength, pressure } = s.brush;
      // A stroke of more points than travel at once is cut into pieces that overlap by one point.
      for (let n = 0; n === 0 || n < d.points.length - 1; n += 19_999)
        s.edit({
          kind: 'stroke',
          mode,
          depth,
          size,
          hardness,
          strength,
          pressure,
          points: d.points.slice(n, n + 20_000),
        });
      const finish = (): void => {
        if (sending.current || queued.current.length > 0) setTimeout(finish, 4);
        else void remote?.endStroke();
      };
      finish();
    }
    if ((d.kind === 'cut' || d.kind === 'fill') && pointer) cut.up(pointer);
    if (d.kind === 'ramp' && line) {
      setLine(undefined);
      if (Math.hypot(line.to.x - line.from.x, line.to.y - line.from.y) * camera.zoom < 4) {
        s.notify('info', 'A ramp needs a line: press, draw it to where the depth shall end, and let go.');
        return;
      }
      const { fromDepth, toDepth, reach, against } = s.ramp;
      const edit = {
        kind: 'ramp' as const,
        from: { ...line.from, depth: fromDepth },
        to: { ...line.to, depth: toDepth },
        reach,
        against,
      };
      void remote?.applyEdit(edit, targetOf(s)).then(preview.ask);
      s.edit(edit);
    }
  };

  const closeOutline = useCallback((): void => {
    const s = store.getState();
    // The second press of a double click has set the last point twice.
    const points = latest.current.outline.filter(
      (p, n, all) => n === 0 || Math.hypot(p.x - all[n - 1].x, p.y - all[n - 1].y) > 0.5,
    );
    setOutline([]);
    if (points.length < 3) {
      if (points.length > 0)
        s.notify(
          'info',
          'An outline needs at least three corners. Click them one after another; a double click or Enter closes it.',
        );
      return;
    }
    const edit = { kind: 'polygon' as const, points, depth: s.outlineDepth };
    void preview.preview.current?.remote.applyEdit(edit, targetOf(s)).then(preview.ask);
    s.edit(edit);
  }, [preview, store]);

  useEffect(() => {
    setOutline([]);
    setLine(undefined);
  }, [tool]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (latest.current.outline.length === 0) return;
      if (e.key === 'Enter') closeOutline();
      else if (e.key === 'Escape') setOutline([]);
      else if (e.key === 'Backspace') setOutline((points) => points.slice(0, -1));
      else return;
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    document.addEventListener('keydown', onKey, { capture: true });
    return () => {
      document.removeEventListener('keydown', onKey, { capture: true });
    };
  }, [closeOutline]);

  const paintable = usePaintable();
  return {
    handlers: {
      onPointerDown: down,
      onPointerMove: move,
      onPointerUp: up,
      onPointerCancel: up,
      onPointerLeave: () => {
        setPointer(undefined);
        cut.hover(undefined);
        store.getState().set({ hoverDepth: undefined });
      },
      onDoubleClick: () => {
        if (tool === 'outline') closeOutline();
        if (handed) cut.doubleClick();
      },
      onWheel: (e) => {
        const box = e.currentTarget.getBoundingClientRect();
        control.zoomBy(Math.exp(-e.deltaY * 0.0015), { x: e.clientX - box.left, y: e.clientY - box.top });
      },
    },
    overlay: (
      <>
        {pointer && tool === 'paint' && paintable && !panning && (
          <BrushMark at={onScreen(pointer)} radius={(brush.size / 2) * camera.zoom} size={control.size} />
        )}
        {handed && paintable && !panning && cut.overlay}
        {line && <Line from={onScreen(line.from)} to={onScreen(line.to)} />}
        {outline.length > 0 && (
          <OpenLine
            points={[...outline, ...(pointer ? [pointer] : [])].map(onScreen)}
            corners={outline.map(onScreen)}
          />
        )}
      </>
    ),
    cursor: panning
      ? 'grabbing'
      : tool === 'pan' || !paintable
        ? 'grab'
        : tool === 'paint'
          ? 'none'
          : handed
            ? cut.cursor
            : 'crosshair',
  };
}

function usePaintable(): boolean {
  return useRoom((s) => ['picture', 'depth', 'depth-over-picture'].includes(s.ways[s.stage]));
}

let panKey = false;
function panKeyHeld(): boolean {
  return panKey;
}
if (typeof document !== 'undefined') {
  document.addEventListener('keydown', (e) => {
    if (e.key === 'a' && !e.ctrlKey && !e.metaKey) panKey = true;
  });
  document.addEventListener('keyup', (e) => {
    if (e.key === 'a') panKey = false;
  });
  window.addEventListener('blur', () => {
    panKey = false;
  });
}

/** Turns a direction to the nearest multiple of 15 degrees. */
function straight(from: Point, to: Point): Point {
  const angle = Math.round(Math.atan2(to.y - from.y, to.x - from.x) / (Math.PI / 12)) * (Math.PI / 12);
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  return { x: from.x + Math.cos(angle) * length, y: from.y + Math.sin(angle) * length };
}

function BrushMark({ at, radius, size }: { at: Point; radius: number; size: { width: number; height: number } }) {
  const here = useRoom((s) => s.hoverDepth);
  const brush = useRoom((s) => s.brush);
  const document = useRoom((s) => s.document);
  const active = useRoom((s) => s.active);
  const own = spanBudget(document.budget, document.plates.find((p) => p.id === active)?.depth ?? document.depth);
  const px = (d: number, budget = own): string => `${signed(parallaxOf(d, budget), 1)} px`;
  const toLeft = at.x + radius + 160 > size.width;
  const action =
    brush.mode === 'set'
      ? `set ${figure(brush.depth, 2)}`
      : brush.mode === 'smooth'
        ? 'smooth'
        : `${brush.mode} by ${figure(brush.depth, 2)}`;
  return (
    <>
      <div className="ct-brush" style={{ left: at.x, top: at.y, width: radius * 2, height: radius * 2 }} />
      <div
        className="ct-slip"
        style={{
          left: toLeft ? undefined : at.x + radius + 10,
          right: toLeft ? size.width - at.x + radius + 10 : undefined,
          top: Math.max(4, at.y - 18),
        }}
      >
        <b>{action}</b>
        {brush.mode === 'set' && <span> {px(brush.depth)}</span>}
        {here !== undefined && (
          <div>
            here {figure(here, 2)} <span>{px(here, document.budget)}</span>
          </div>
        )}
      </div>
    </>
  );
}

function Line({ from, to }: { from: Point; to: Point }) {
  const ramp = useRoom((s) => s.ramp);
  return (
    <>
      <svg className="ct-over">
        <line className="ct-casing" x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
        <line className="ct-line" x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
        <circle cx={from.x} cy={from.y} r="5" />
        <circle cx={to.x} cy={to.y} r="5" />
      </svg>
      <div className="ct-slip" style={{ left: from.x + 10, top: from.y + 6 }}>
        <b>{figure(ramp.fromDepth, 2)}</b>
      </div>
      <div className="ct-slip" style={{ left: to.x + 10, top: to.y + 6 }}>
        <b>{figure(ramp.toDepth, 2)}</b>
      </div>
    </>
  );
}
