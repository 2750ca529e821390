'use client';

import { eyePlace } from '@/core/camera/rig';
import { projectionOf } from '@/core/camera/projection';
import { inverseDistance } from '@/core/camera/sourceCamera';
import { poseAt } from '@/core/camera/move';
import { AT_REST } from '@/core/camera/pose';
import { sightLine } from '@/core/scene/sightLine';
import { wholeScene } from '@/core/scene/sceneAt';
import { handedSize, type ShotDocument } from '@/core/shot/document';
import { leftOf, OUTSIDE, PLAN_WIDTH, type PlanPlace } from '../../../depth-board/plan/planPlace';
import { useMove } from '../slice';
import { Aim } from './Aim';
import { Rail } from './Rail';

/** What is handed over, across: its first and its last edge, px of the source. */
function edgesOf(document: ShotDocument, axis: PlanPlace['axis']): readonly [number, number] {
  const { width, height } = handedSize(document);
  const { left, top } = document.frame ?? { left: 0, top: 0 };
  return axis === 'columns' ? [left - 0.5, left + width - 0.5] : [top - 0.5, top + height - 0.5];
}

/** The camera in the plan at the needle: its field of view, where that runs past the source, its aim, and the rail it goes along. */
export function MovePlan({ place }: { place: PlanPlace }) {
  const document = useMove((s) => s.document);
  const needle = useMove((s) => s.needle);
  const { axis, length } = place;
  const scene = wholeScene(document);
  const pose = document.move ? poseAt(document.move, needle) : AT_REST;
  const projection = projectionOf(scene.camera, pose);
  const near = inverseDistance(1, scene.camera);
  const far = inverseDistance(0, scene.camera);
  /** Both ends of a line of sight, far and near, css px across. */
  const ends = (seenAt: number, of = projection): readonly [number, number] => {
    const { from, per } = sightLine(of, scene.camera, axis, seenAt);
    return [leftOf(place, from + per * far), leftOf(place, from + per * near)];
  };
  const [first, last] = edgesOf(document, axis).map((edge) => ends(edge));
  const eyes = [-0.5, 0.5].map((eye) => {
    const seen = projectionOf(scene.camera, pose, eyePlace(scene.rig, scene.camera, pose, eye));
    return edgesOf(document, axis).map((edge) => ends(edge, seen));
  });
  const quad = `${first[0]},0 ${last[0]},0 ${last[1]},${length} ${first[1]},${length}`;
  return (
    <>
      <defs>
        <pattern id="ct-plan-dry" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="4" height="4" className="ct-plan-dry-ground" />
          <rect width="1.6" height="4" className="ct-plan-dry-line" />
        </pattern>
        <clipPath id="ct-plan-cork">
          <rect width={PLAN_WIDTH} height={length} rx="5" />
        </clipPath>
      </defs>
      <g clipPath="url(#ct-plan-cork)">
        {axis === 'columns' &&
          eyes.flat().map(([a, b], n) => <line key={n} className="ct-plan-eye" x1={a} y1={0} x2={b} y2={length} />)}
        <Dry line={first} edge={OUTSIDE} length={length} side={-1} />
        <Dry line={last} edge={PLAN_WIDTH - OUTSIDE} length={length} side={1} />
        <polygon className="ct-plan-casing" points={quad} />
        <polygon className="ct-plan-sight" points={quad} />
        <Aim place={place} />
      </g>
      <Rail axis={axis} y={length + 13} sight={[first[1], last[1]]} />
    </>
  );
}

/** Between the source's edge and a line of sight that runs past it: there is no picture there. */
function Dry({
  line: [far, near],
  edge,
  length,
  side,
}: {
  line: readonly [number, number];
  edge: number;
  length: number;
  side: -1 | 1;
}) {
  const past = (x: number): number => (x - edge) * side;
  if (past(far) <= 0.2 && past(near) <= 0.2) return null;
  // Where the line crosses the edge, if it does.
  const crosses = (past(far) / (past(far) - past(near))) * length;
  const from = past(far) > 0 ? 0 : crosses;
  const to = past(near) > 0 ? length : crosses;
  const at = (y: number): number => far + ((near - far) * y) / length;
  return (
    <polygon
      className="ct-plan-dry"
      data-testid="plan-dry"
      points={`${edge},${from} ${at(from)},${from} ${at(to)},${to} ${edge},${to}`}
    />
  );
}
