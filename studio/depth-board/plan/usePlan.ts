import { useEffect, useState } from 'react';
import type { PlanAxis, PlanStrip } from '@/core/scene/plan';
import { sceneOf, type Span } from '@/core/scene/sceneOf';
import { useRoom, useRoomStore } from '../../room/context';
import { INSIDE } from './planPlace';

/** Css px along the ruler to a place of the plan. */
const COARSE = 2;
/** What is dragged is drawn where it lies; its plan follows when the hand rests so long, ms. */
const REST_MS = 120;

/** A surface from above or from the side, and the span that it was drawn for. */
export interface DrawnStrip extends PlanStrip {
  readonly span: Span;
}

/** The surfaces from above or from the side, far to near; follows what is painted and moved. */
export function usePlan(axis: PlanAxis, length: number): readonly DrawnStrip[] {
  const preview = useRoom((s) => s.preview);
  const store = useRoomStore();
  const revision = useRoom((s) => JSON.stringify([sceneOf(s.document).version, s.document.depth, s.rasterTicket]));
  const [strips, setStrips] = useState<readonly DrawnStrip[]>([]);
  useEffect(() => {
    if (!preview) return undefined;
    let gone = false;
    const timer = setTimeout(() => {
      const { document } = store.getState();
      const scene = sceneOf(document);
      void preview.plan(scene, axis, { across: INSIDE, along: Math.round(length / COARSE) }).then((made) => {
        if (gone) return;
        const spanOf = (id: string | null): Span => scene.plates.find((p) => p.id === id) ?? scene.back;
        setStrips(made.map((strip) => ({ ...strip, span: spanOf(strip.id) })));
      });
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [store, preview, axis, length, revision]);
  return strips;
}
