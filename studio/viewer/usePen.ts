'use client';

import { useEffect, useRef, useState, type PointerEvent as PenEvent, type RefObject, type WheelEvent } from 'react';
import { isFlat } from '@/compute/look';
import type { Point } from '@/core/raster/geometry';
import { sceneOf } from '@/core/scene/sceneOf';
import { useRoomStore } from '../room/context';
import { stageOf } from '../stages';
import type { Pen, Tool } from './tool';
import type { CameraControl } from './useCamera';
import type { PreviewControl } from './previewControl';

/** True while the key is held that pans whatever tool is in hand. */
function usePanKey(): RefObject<boolean> {
  const held = useRef(false);
  useEffect(() => {
    const down = (e: KeyboardEvent): void => {
      if (e.key === 'a' && !e.ctrlKey && !e.metaKey) held.current = true;
    };
    const up = (e: KeyboardEvent): void => {
      if (e.key === 'a') held.current = false;
    };
    const leave = (): void => {
      held.current = false;
    };
    document.addEventListener('keydown', down);
    document.addEventListener('keyup', up);
    window.addEventListener('blur', leave);
    return () => {
      document.removeEventListener('keydown', down);
      document.removeEventListener('keyup', up);
      window.removeEventListener('blur', leave);
    };
  }, []);
  return held;
}

interface Drag {
  readonly pans: boolean;
  x: number;
  y: number;
}

/** The pen on the picture: pans, or does what the tool in hand does. */
export function usePen(control: CameraControl, preview: PreviewControl, held: RefObject<Tool | undefined>) {
  const store = useRoomStore();
  const [panning, setPanning] = useState(false);
  const panKey = usePanKey();
  const drag = useRef<Drag | undefined>(undefined);
  const last = useRef<Point | undefined>(undefined);
  const asking = useRef(false);
  const camera = useRef(control.camera);
  camera.current = control.camera;

  const toPicture = (e: { clientX: number; clientY: number }, box: DOMRect): Point => {
    const { zoom, x, y } = camera.current;
    return { x: x + (e.clientX - box.left) / zoom, y: y + (e.clientY - box.top) / zoom };
  };

  const penOf = (e: PenEvent, box: DOMRect): Pen => {
    const finer = e.nativeEvent.getCoalescedEvents?.() ?? [];
    const hundredths = (v: number): number => Math.round(v * 100) / 100;
    const path = (finer.length > 0 ? finer : [e.nativeEvent]).map((sample) => {
      const { x, y } = toPicture(sample, box);
      // A mouse has no pressure of its own; it always presses in full.
      const pressure = sample.pointerType === 'pen' ? Math.round(sample.pressure * 1000) / 1000 : 1;
      return { x: hundredths(x), y: hundredths(y), pressure };
    });
    return { shiftKey: e.shiftKey, altKey: e.altKey, detail: e.detail, path };
  };

  /**
   * Tools work on the source; where the picture shown is not the source's own view, or the plate cannot take it, that
   * is said.
   */
  const mayWork = (): boolean => {
    const s = store.getState();
    const stage = stageOf(s.stage);
    const why = isFlat(s.ways[s.stage]) ? stage.refuses?.(s as never) : stage.wrongWay;
    if (why) s.notify('info', why);
    return !why;
  };

  /** Tells the depth under the pen; a place that comes while one is asked for is left out. */
  const tellDepth = (at: Point): void => {
    const { preview: link, document, stage } = store.getState();
    // Where a camera has moved, what lies under the pen is another place of the source.
    if (asking.current || !link || stageOf(stage).eyes) return;
    asking.current = true;
    void link.depthAt(at.x, at.y, sceneOf(document)).then((hoverDepth) => {
      asking.current = false;
      store.getState().set({ hoverDepth });
    });
  };

  const up = (): void => {
    const dragged = drag.current;
    drag.current = undefined;
    setPanning(false);
    if (dragged && !dragged.pans && last.current) held.current?.up?.(last.current);
  };

  const handlers = {
    onPointerDown: (e: PenEvent): void => {
      if (e.button === 2) return;
      const pans = e.button !== 0 || e.buttons === 4 || panKey.current || !held.current;
      if (!pans && !mayWork()) return;
      const box = e.currentTarget.getBoundingClientRect();
      e.currentTarget.setPointerCapture(e.pointerId);
      drag.current = { pans, x: e.clientX, y: e.clientY };
      const at = toPicture(e, box);
      last.current = at;
      if (pans) setPanning(true);
      else held.current?.down?.(at, penOf(e, box));
    },
    onPointerMove: (e: PenEvent): void => {
      const box = e.currentTarget.getBoundingClientRect();
      const at = toPicture(e, box);
      last.current = at;
      const dragged = drag.current;
      if (!dragged) {
        tellDepth(at);
        held.current?.hover?.(at);
      } else if (dragged.pans) {
        control.panBy(e.clientX - dragged.x, e.clientY - dragged.y);
        dragged.x = e.clientX;
        dragged.y = e.clientY;
      } else held.current?.move?.(at, penOf(e, box));
    },
    onPointerUp: up,
    onPointerCancel: up,
    onPointerLeave: (): void => {
      held.current?.hover?.(undefined);
      store.getState().set({ hoverDepth: undefined });
    },
    onDoubleClick: (): void => {
      held.current?.doubleClick?.();
    },
    onWheel: (e: WheelEvent): void => {
      const box = e.currentTarget.getBoundingClientRect();
      control.zoomBy(Math.exp(-e.deltaY * 0.0015), { x: e.clientX - box.left, y: e.clientY - box.top });
    },
  };
  return { handlers, panning, preview };
}
