'use client';

import { Button, Spin } from 'antd';
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import { PREVIEW_SIDE } from '@/compute/layer/addresses';
import type { Point, Rect } from '@/core/raster/geometry';
import { clipRect } from '@/core/raster/geometry';
import type { Budget } from '@/core/stereo/parallax';
import { useRoom, useRoomStore } from '../room/context';
import { stageOf } from '../stages';
import { hasTool, ToolHost } from './ToolHost';
import type { Bench, Tool } from './tool';
import { useCamera, type CameraControl } from './useCamera';
import { usePen } from './usePen';
import type { PreviewControl } from './previewControl';
import { usePreview } from './usePreview';

/** So long the camera must rest before a window in detail is fetched, ms. */
const REST_MS = 160;

/** How far beyond what is seen a window in detail reaches, so that its views have picture to take from. */
const detailMargin = ({ nearPx, farPx }: Budget): number => Math.ceil(Math.max(Math.abs(nearPx), Math.abs(farPx))) + 8;

/** The picture on its neutral ground: shows the chosen way, zooms to the pixel, and takes the pen. */
export function Viewer({ onCamera }: { onCamera(control: CameraControl): void }) {
  const store = useRoomStore();
  const frame = useRef<HTMLDivElement>(null);
  const whole = useRef<HTMLCanvasElement>(null);
  const detail = useRef<HTMLCanvasElement>(null);
  const rest = useRef<HTMLCanvasElement>(null);
  const source = useRoom((s) => s.document.source);
  const pictures = useRoom(
    (s) => (s.ways[s.stage] === 'both' ? 2 : 1) * (stageOf(s.stage).pictures?.(s as never) ?? 1),
  );
  const both = pictures > 1;
  const handed = useRoom((s) => s.document.frame);
  const content = useMemo(
    () => ({ width: source.width * pictures, height: source.height }),
    [pictures, source.width, source.height],
  );
  const control = useCamera(frame, content);
  const { camera, size } = control;
  const preview = usePreview({ whole, detail, rest });
  const tool = useRef<Tool | undefined>(undefined);
  const { handlers, panning } = usePen(control, preview, tool);
  const { state, place } = preview;

  useEffect(() => {
    onCamera(control);
  }, [camera.zoom, control.fits, size]); // by value: the control is a new object each time
  const { lookAt } = control;
  useEffect(() => {
    store.getState().set({ lookAt });
  }, [store, lookAt]);
  useLayoutEffect(() => {
    place(camera);
  }, [camera.zoom, camera.x, camera.y, state, place]);
  useDetail(control, preview, both);

  const toScreen = (p: Point): Point => ({ x: (p.x - camera.x) * camera.zoom, y: (p.y - camera.y) * camera.zoom });
  const bench = { store, preview, zoom: camera.zoom, size, toScreen };
  const cursor = useCursor(tool, panning);
  return (
    <div className="ct-viewer" ref={frame} role="application" aria-label="Picture" {...handlers} style={{ cursor }}>
      <canvas ref={whole} data-testid="picture" data-state={state === 'ready' ? 'ready' : 'loading'} />
      <canvas ref={detail} data-testid="detail" hidden />
      <canvas ref={rest} data-testid="rest" hidden />
      {handed && (
        <FrameLine
          frame={handed}
          camera={camera}
          shifts={Array.from({ length: pictures }, (_, n) => n * source.width)}
        />
      )}
      <Over bench={bench} />
      <ToolHost bench={bench} held={tool} panning={panning} />
      {state === 'loading' && (
        <div className="ct-viewer-note">
          <Spin size="small" /> Fetching the picture
        </div>
      )}
      {typeof state === 'object' && (
        <div className="ct-viewer-note ct-viewer-failed" role="alert">
          <b>The picture could not be fetched.</b>
          <span>{state.failed}</span>
          <Button
            size="small"
            onClick={() => {
              preview.retry();
              void store.getState().refresh();
            }}
          >
            Try again
          </Button>
        </div>
      )}
    </div>
  );
}

/** What the stage draws over the picture. */
function Over({ bench }: { bench: Bench }) {
  const { Over: Drawn } = stageOf(useRoom((s) => s.stage));
  return Drawn ? <Drawn bench={bench} /> : null;
}

/**
 * Looked at more closely than the preview has pixels, the window is fetched at the source's own size once the hand
 * rests.
 */
function useDetail({ camera, size }: CameraControl, { state, ask }: PreviewControl, both: boolean): void {
  const store = useRoomStore();
  const link = useRoom((s) => s.preview);
  const stage = useRoom((s) => s.stage);
  const { width, height } = useRoom((s) => s.document.source);
  const budget = useRoom((s) => s.document.budget);
  const ratio = globalThis.devicePixelRatio || 1;
  const closer = !both && camera.zoom * ratio > Math.min(1, PREVIEW_SIDE / Math.max(width, height)) * 1.1;
  const seen: Rect | undefined = closer
    ? clipRect(
        {
          left: camera.x,
          top: camera.y,
          right: camera.x + size.width / camera.zoom,
          bottom: camera.y + size.height / camera.zoom,
        },
        width,
        height,
      )
    : undefined;
  const seenKey = seen ? `${Object.values(seen).join()} ${stageOf(stage).reach ? stage : ''}` : '';
  useEffect(() => {
    store.getState().set({ closer });
  }, [store, closer]);
  const shown = useRef('');
  useEffect(() => {
    if (state !== 'ready' || !link || seenKey === shown.current) return undefined;
    const timer = setTimeout(
      () => {
        shown.current = seenKey;
        const s = store.getState();
        const reach = stageOf(s.stage).reach?.(s as never) ?? 0;
        const margin = { across: Math.max(reach, detailMargin(budget)), down: reach };
        link.lookCloser(seen, margin).then(ask, () => undefined);
      },
      seen ? REST_MS : 0,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [seenKey, state, link]); // by value: the rectangle is a new object each time
}

/** The cursor of the tool in hand; a hand where the picture can be panned. */
function useCursor(tool: { readonly current: Tool | undefined }, panning: boolean): string {
  const inHand = useRoom(hasTool);
  if (panning) return 'grabbing';
  return inHand ? (tool.current?.cursor ?? 'crosshair') : 'grab';
}

/** The frame of an extended canvas: what is handed over. */
function FrameLine({
  frame: { left, top, width, height },
  camera: { x, y, zoom },
  shifts,
}: {
  frame: { left: number; top: number; width: number; height: number };
  camera: { x: number; y: number; zoom: number };
  shifts: readonly number[];
}) {
  return (
    <svg className="ct-over" aria-hidden>
      {shifts.map((shift) => {
        const at = {
          x: (left + shift - x) * zoom,
          y: (top - y) * zoom,
          width: width * zoom,
          height: height * zoom,
        };
        return (
          <g key={shift}>
            <rect className="ct-casing" {...at} />
            <rect className="ct-line" {...at} strokeDasharray="6 5" />
          </g>
        );
      })}
    </svg>
  );
}
