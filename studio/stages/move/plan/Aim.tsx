'use client';

import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Vector } from '@/core/camera/pose';
import { fromPlan, inPlan } from '@/core/scene/sightLine';
import { wholeScene } from '@/core/scene/sceneAt';
import { figure } from '../../../numbers';
import { acrossOf, downOf, leftOf, PLAN_WIDTH, type PlanPlace } from '../../../depth-board/plan/planPlace';
import { keyAt, placeAim } from '../beads';
import { useMove, useMoveStore } from '../slice';

/** As good as without end, in the scene's unit. */
const FARTHEST = 1e5;

/** Not nearer to an edge than its ring is wide, css px. */
const within = (v: number, length: number): number => Math.min(length - 8, Math.max(8, v));

/** What keeps its place in the picture while the camera moves: dragged in the plan. */
export function Aim({ place }: { place: PlanPlace }) {
  const store = useMoveStore();
  const move = useMove((s) => s.document.move);
  const document = useMove((s) => s.document);
  const needle = useMove((s) => s.needle);
  const from = useRef<{ readonly x: number; readonly y: number } | undefined>(undefined);
  if (!move) return null;
  const { camera } = wholeScene(document);
  const given = keyAt(move, needle).value.aim;
  // Where it does not turn by itself it looks at what lies without end: that stands still.
  const aim: Vector = given ?? [0, 0, FARTHEST];
  const at = inPlan(aim, camera, place.axis);
  const x = within(leftOf(place, at.x), PLAN_WIDTH);
  const y = within(downOf(place, at.y), place.length);
  const set = (left: number, down: number): void => {
    const depth = Math.min(0.999, Math.max(0, down / place.length));
    placeAim(
      store,
      fromPlan({ x: acrossOf(place, left), y: depth }, aim, camera, place.axis) as [number, number, number],
    );
  };
  const here = (e: PointerEvent<SVGGElement>): { x: number; y: number } => {
    const { left, top } = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { x: e.clientX - left, y: e.clientY - top };
  };
  const onKey = (e: KeyboardEvent): void => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    const px = e.shiftKey ? 10 : 1;
    const s = store.getState();
    const now = inPlan(keyAt(s.document.move!, s.needle).value.aim ?? aim, camera, place.axis);
    set(
      within(leftOf(place, now.x), PLAN_WIDTH) + step[0] * px,
      within(downOf(place, now.y), place.length) + step[1] * px,
    );
    store.getState().keepSoon('Aim');
  };
  const [right, up, forward] = aim;
  const says = !given ? 'none' : `${figure(right, 2)} m right, ${figure(up, 2)} m up, ${figure(forward, 2)} m away`;
  return (
    <g
      className={given ? 'ct-plan-aim' : 'ct-plan-aim none'}
      role="button"
      tabIndex={0}
      aria-label={`Aim: ${says}. Arrows move it`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        const p = here(e);
        from.current = { x: x - p.x, y: y - p.y };
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        const p = here(e);
        set(p.x + from.current.x, p.y + from.current.y);
      }}
      onPointerUp={() => {
        if (!from.current) return;
        from.current = undefined;
        store.getState().keep('Aim');
      }}
      onKeyDown={onKey}
    >
      <title>{says}</title>
      <line className="ct-plan-thread" x1={x} y1={y + 6} x2={PLAN_WIDTH / 2} y2={place.length} />
      <circle className="ct-plan-hit" cx={x} cy={y} r={11} />
      <circle className="ct-plan-ring" cx={x} cy={y} r={6} />
      <circle className="ct-plan-dot" cx={x} cy={y} r={2} />
      <text x={x + (x > PLAN_WIDTH - 50 ? -12 : 11)} y={y + 4} textAnchor={x > PLAN_WIDTH - 50 ? 'end' : 'start'}>
        {given ? 'aim' : 'no aim'}
      </text>
    </g>
  );
}
