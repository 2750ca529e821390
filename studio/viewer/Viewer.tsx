'use client';

import { Button, Spin } from 'antd';
import { useEffect, useMemo, useRef } from 'react';
import { useRoom, useRoomStore } from '../room/context';
import { useCamera, type CameraControl } from './useCamera';
import { usePreview } from './usePreview';
import { useTools } from './useTools';

/** How far beyond what is seen a window in detail reaches, so that its views have picture to take from. */
const detailMargin = (near: number, far: number): number => Math.ceil(Math.max(Math.abs(near), Math.abs(far))) + 8;

/** The picture on its neutral ground: shows the chosen way, zooms to the pixel, and takes the pen. */
export function Viewer({ onCamera }: { onCamera(control: CameraControl): void }) {
  const store = useRoomStore();
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const source = useRoom((s) => s.document.source);
  const way = useRoom((s) => s.ways[s.stage]);
  const handed = useRoom((s) => s.document.frame);
  const budget = useRoom((s) => s.document.budget);
  const content = useMemo(
    () => ({ width: way === 'both' ? source.width * 2 : source.width, height: source.height }),
    [way, source.width, source.height],
  );
  const control = useCamera(frame, content);
  const { camera, size } = control;
  const preview = usePreview(canvas, camera);
  const tools = useTools(control, preview);
  const { redraw, ask, preview: held, state } = preview;

  useEffect(() => {
    onCamera(control);
  }, [control.camera.zoom, control.fits, size]); // by value: the control is a new object each time

  useEffect(() => {
    const element = canvas.current;
    if (!element || size.width === 0) return;
    const ratio = globalThis.devicePixelRatio || 1;
    element.width = Math.round(size.width * ratio);
    element.height = Math.round(size.height * ratio);
    redraw();
  }, [size, redraw]);
  useEffect(redraw, [camera.zoom, camera.x, camera.y, redraw]);

  // Looked at more closely than the preview has pixels, the window is fetched at the source's own size once the hand rests.
  const closer =
    way !== 'both' &&
    state === 'ready' &&
    camera.zoom * (globalThis.devicePixelRatio || 1) > Math.min(1, 1280 / Math.max(source.width, source.height)) * 1.1;
  const seen = closer
    ? clip(
        {
          left: camera.x,
          top: camera.y,
          right: camera.x + size.width / camera.zoom,
          bottom: camera.y + size.height / camera.zoom,
        },
        source,
      )
    : undefined;
  const seenKey = seen ? `${seen.left},${seen.top},${seen.right},${seen.bottom}` : '';
  useEffect(() => {
    if (state !== 'ready') return undefined;
    const timer = setTimeout(
      () => {
        void held.current?.remote
          .lookCloser(seen, detailMargin(budget.nearPx, budget.farPx))
          .then(ask, () => undefined);
      },
      seen ? 160 : 0,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [seenKey, state]); // by value: the rectangle is a new object each time

  return (
    <div
      className="ct-viewer"
      ref={frame}
      role="application"
      aria-label="Picture"
      {...tools.handlers}
      style={{ cursor: tools.cursor }}
    >
      <canvas ref={canvas} data-testid="picture" data-state={state === 'ready' ? 'ready' : 'loading'} />
      {handed && <FrameLine frame={handed} camera={camera} both={way === 'both' ? source.width : 0} />}
      {tools.overlay}
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

/** The frame of an extended canvas: what is handed over. */
function FrameLine({
  frame: { left, top, width, height },
  camera: { x, y, zoom },
  both,
}: {
  frame: { left: number; top: number; width: number; height: number };
  camera: { x: number; y: number; zoom: number };
  both: number;
}) {
  return (
    <svg className="ct-over" aria-hidden>
      {(both > 0 ? [0, both] : [0]).map((shift) => {
        const at = { x: (left + shift - x) * zoom, y: (top - y) * zoom, width: width * zoom, height: height * zoom };
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

/** Rounded outwards and clipped to the picture; undefined where nothing of it is seen. */
function clip(
  r: { left: number; top: number; right: number; bottom: number },
  size: { width: number; height: number },
) {
  const rect = {
    left: Math.max(0, Math.floor(r.left)),
    top: Math.max(0, Math.floor(r.top)),
    right: Math.min(size.width, Math.ceil(r.right)),
    bottom: Math.min(size.height, Math.ceil(r.bottom)),
  };
  return rect.left < rect.right && rect.top < rect.bottom ? rect : undefined;
}
