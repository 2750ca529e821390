'use client';

import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { Camera } from './frames';

const MARGIN = 12;

export interface CameraControl {
  readonly camera: Camera;
  readonly size: { readonly width: number; readonly height: number };
  readonly fits: boolean;
  fit(): void;
  /** One picture pixel on one screen pixel. */
  toPixels(): void;
  zoomBy(factor: number, at?: { x: number; y: number }): void;
  panBy(dx: number, dy: number): void;
  /** Brings a full-size place to the middle, at least so large as the picture's own pixels. */
  lookAt(at: { readonly x: number; readonly y: number }): void;
}

/** Where the viewer looks: fitted until somebody zooms, and then kept where they put it. */
export function useCamera(
  frame: RefObject<HTMLDivElement | null>,
  content: { width: number; height: number },
): CameraControl {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [placed, setPlaced] = useState<Camera | undefined>();
  const latest = useRef<Camera>({ zoom: 1, x: 0, y: 0 });

  useEffect(() => {
    const element = frame.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => {
      setSize({ width: element.clientWidth, height: element.clientHeight });
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
    };
  }, [frame]);

  const fitted = fitCamera(size, content);
  const camera = placed ?? fitted;
  latest.current = camera;

  const zoomBy = useCallback(
    (factor: number, at?: { x: number; y: number }) => {
      const c = latest.current;
      const zoom = Math.min(32, Math.max(Math.min(fitCamera(size, content).zoom, 0.1), c.zoom * factor));
      const px = at?.x ?? size.width / 2;
      const py = at?.y ?? size.height / 2;
      setPlaced({ zoom, x: c.x + px / c.zoom - px / zoom, y: c.y + py / c.zoom - py / zoom });
    },
    [size, content],
  );
  const panBy = useCallback((dx: number, dy: number) => {
    const c = latest.current;
    setPlaced({ zoom: c.zoom, x: c.x - dx / c.zoom, y: c.y - dy / c.zoom });
  }, []);
  const lookAt = useCallback(
    (at: { readonly x: number; readonly y: number }) => {
      const zoom = Math.max(latest.current.zoom, 1 / (globalThis.devicePixelRatio || 1));
      setPlaced({ zoom, x: at.x - size.width / 2 / zoom, y: at.y - size.height / 2 / zoom });
    },
    [size],
  );
  return {
    lookAt,
    camera,
    size,
    fits: placed === undefined,
    zoomBy,
    panBy,
    fit: useCallback(() => {
      setPlaced(undefined);
    }, []),
    toPixels: useCallback(() => {
      zoomBy(1 / latest.current.zoom / (globalThis.devicePixelRatio || 1));
    }, [zoomBy]),
  };
}

function fitCamera(size: { width: number; height: number }, content: { width: number; height: number }): Camera {
  if (size.width === 0) return { zoom: 1, x: 0, y: 0 };
  const zoom = Math.max(
    0.001,
    Math.min((size.width - 2 * MARGIN) / content.width, (size.height - 2 * MARGIN) / content.height),
  );
  return { zoom, x: content.width / 2 - size.width / 2 / zoom, y: content.height / 2 - size.height / 2 / zoom };
}
