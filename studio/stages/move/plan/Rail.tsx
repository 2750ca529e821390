'use client';

import { useRef, type ReactNode } from 'react';
import { poseAt } from '@/core/camera/move';
import type { Vector } from '@/core/camera/pose';
import type { PlanAxis } from '@/core/scene/plan';
import { figure } from '../../../numbers';
import { placeBead, setAt } from '../beads';
import { useMove, useMoveStore } from '../slice';
import { barOf, movedOnRail, onRail, RAIL_HEIGHT, RAIL_WIDTH, railFor, type RailPlace } from './railPlace';

/** So many places of the way are drawn. */
const POINTS = 64;

/**
 * Below the plan, in metres: where the source camera stood, the way with its beads, and the dolly with both eyes at the
 * needle.
 */
export function Rail({ axis, y, sight }: { axis: PlanAxis; y: number; sight: readonly [number, number] }) {
  const store = useMoveStore();
  const move = useMove((s) => s.document.move);
  const needle = useMove((s) => s.needle);
  // While something is dragged the scale stays.
  const frozen = useRef<RailPlace | undefined>(undefined);
  const beads = move?.keys.map((key) => key.value.position) ?? [];
  const way = move
    ? Array.from({ length: POINTS }, (_, n) => poseAt(move, ((move.frames - 1) * n) / (POINTS - 1)).position)
    : [];
  const fitting = railFor([[0, 0, 0], ...beads, ...way], axis);
  const rail = frozen.current?.axis === axis ? frozen.current : fitting;
  const standsAt: Vector = move ? poseAt(move, needle).position : [0, 0, 0];
  const bar = barOf(rail);
  const dolly = onRail(rail, standsAt);
  const source = onRail(rail, [0, 0, 0]);
  const hold = (on: boolean): void => {
    frozen.current = on ? fitting : undefined;
  };
  const handle = ({ label, at, where, to }: Held, marks: ReactNode) => (
    <Handle key={label} label={label} rail={rail} at={at} where={where} onHold={hold} to={to}>
      {marks}
    </Handle>
  );
  return (
    <g transform={`translate(0 ${y})`} className="ct-rail">
      <path className="ct-rail-paper" d={tornEdge()} />
      {sight.map((x) => (
        <line key={x} className="ct-plan-thread" x1={x} y1={-13} x2={dolly.x} y2={dolly.y} />
      ))}
      <circle className="ct-rail-source" cx={source.x} cy={source.y} r={7} />
      <text x={Math.min(RAIL_WIDTH - 84, source.x + 22)} y={Math.min(RAIL_HEIGHT - 6, source.y + 14)}>
        source camera
      </text>
      <path className="ct-rail-bar" d={`M9 12v4h${bar * rail.perMetre}v-4`} />
      <text x={14 + bar * rail.perMetre} y={17}>
        {figure(bar, bar < 0.1 ? 2 : 1)} m
      </text>
      {move && (
        <>
          <polyline
            className="ct-rail-way"
            points={way
              .map((p) => onRail(rail, p))
              .map((p) => `${p.x},${p.y}`)
              .join(' ')}
          />
          {beads.map((p, n) => {
            const { x, y: down } = onRail(rail, p);
            return handle(
              {
                label: `Camera, bead ${n + 1} on the rail`,
                at: p,
                where: () => store.getState().document.move!.keys[n].value.position,
                to: (position) => {
                  placeBead(store, n, position);
                },
              },
              <circle className="ct-rail-bead" cx={x} cy={down} r={5} />,
            );
          })}
        </>
      )}
      {handle(
        {
          label: 'Camera at the needle',
          at: standsAt,
          where: () => {
            const { document, needle: now } = store.getState();
            return document.move ? poseAt(document.move, now).position : standsAt;
          },
          to: (position) => {
            setAt(store, { position });
          },
        },
        <g transform={`translate(${dolly.x} ${dolly.y})`} className="ct-rail-dolly">
          <rect x={-17} y={-8} width={34} height={16} rx={8} />
          <text x={-8} y={4} textAnchor="middle" className="ct-left-eye">
            L
          </text>
          <text x={8} y={4} textAnchor="middle" className="ct-right-eye">
            R
          </text>
        </g>,
      )}
    </g>
  );
}

/** What a handle on the rail moves. */
interface Held {
  readonly label: string;
  readonly at: Vector;
  where(): Vector;
  to(p: [number, number, number]): void;
}

/** The rail's paper, torn at its upper edge. */
function tornEdge(): string {
  const teeth = Array.from({ length: 21 }, (_, n) => `L${n * 10 + 5} ${n % 2 ? -3 : 1} L${n * 10 + 10} 0`).join(' ');
  return `M0 0 ${teeth} V${RAIL_HEIGHT} H0 Z`;
}

/** Something on the rail that is taken hold of: dragged, or moved by the arrows. */
function Handle({
  label,
  rail,
  at,
  where,
  to,
  onHold,
  children,
}: {
  label: string;
  rail: RailPlace;
  at: Vector;
  /** Where it is now, also before that is drawn. */
  where(): Vector;
  to(p: [number, number, number]): void;
  onHold(on: boolean): void;
  children: ReactNode;
}) {
  const store = useMoveStore();
  const from = useRef<{ readonly x: number; readonly y: number; readonly at: Vector } | undefined>(undefined);
  const end = (): void => {
    if (!from.current) return;
    from.current = undefined;
    onHold(false);
    store.getState().keep('Move the camera');
  };
  return (
    <g
      className="ct-rail-handle"
      role="button"
      tabIndex={0}
      aria-label={`${label}: ${at.map((v, n) => `${figure(v, 2)} m ${['right', 'up', 'forward'][n]}`).join(', ')}. Arrows move it`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        store.getState().play(false);
        from.current = { x: e.clientX, y: e.clientY, at };
        onHold(true);
      }}
      onPointerMove={(e) => {
        if (from.current)
          to(movedOnRail(rail, from.current.at, e.clientX - from.current.x, e.clientY - from.current.y));
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onKeyDown={(e) => {
        const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
        if (!step) return;
        e.preventDefault();
        e.stopPropagation();
        // A hundredth of a metre, with Shift a tenth, with Alt a thousandth.
        const fine = e.altKey ? 0.001 : 0.01;
        const metres = (e.shiftKey ? 0.1 : fine) * rail.perMetre;
        to(movedOnRail(rail, where(), step[0] * metres, step[1] * metres));
        store.getState().keepSoon('Move the camera');
      }}
    >
      {children}
    </g>
  );
}
