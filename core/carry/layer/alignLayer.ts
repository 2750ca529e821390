import { sampledAt } from '../../raster/sampledAt';
import type { Picture8 } from '../../raster/picture';
import { clipRect } from '../../raster/geometry';
import { NormalEquations } from '../normalEquations';
import { colourLevels, inLevel, type ColourLevel } from './colourLevels';
import { placeIn, type LayerPose } from './layerPose';
import type { Template, TemplateLevel } from './template';

/** Where a cut-out was found. */
export interface Found {
  readonly pose: LayerPose;
  /** Grey levels its colours are off by, in the mean, those that are off by much counted as `MUCH`. */
  readonly off: number;
}

/** Slopes are looked up anew at these steps; between them they hardly change. */
const SLOPES: ReadonlySet<number> = new Set([0, 3, 8]);
/** Steps at each size at the most, and when to stop earlier, px. */
const STEPS = 20;
const DONE = 0.005;
/** Colours that are off by more are something else: what hides the layer. */
const MUCH = 40;
/**
 * Colours off by less keep their say, grey levels: where a pattern shifts on its layer and the outline stays, the
 * outline's contrast
 * must count for more than the pattern's.
 */
const NOISE = 24;
/** A layer may grow, shrink and turn by so much from its key. */
const MOST = 0.6;
/**
 * Growth and turn are held to what was known before: one that differs by .01 costs as much as all colours being off
 * by a
 * grey level.
 */
const HELD = 1e4;

/**
 * Finds a cut-out in a frame, from coarse to fine: a shift first, then growth and turn with it, each place weighed by
 * how well its
 * colours agree, so that what hides a part of it has no say.
 * Source: Lucas and Kanade, "An iterative image registration technique", IJCAI 1981, with the weights of Geman and
 * McClure.
 * @param begin where it is thought to be
 * @param whole most of it is seen: growth and turn are found too. What is half hidden tells too little of them
 */
export function alignLayer(template: Template, frame: Picture8, begin: LayerPose, whole = true): Found {
  const margin = 12 + template.reach * (0.15 + Math.abs(begin.grow) + Math.abs(begin.turn));
  const { x, y, rect } = template;
  const around = clipRect(
    {
      left: rect.left + begin.dx - margin,
      right: rect.right + begin.dx + margin,
      top: rect.top + begin.dy - margin,
      bottom: rect.bottom + begin.dy + margin,
    },
    frame.width,
    frame.height,
  );
  if (!around || around.right - around.left < 8 || around.bottom - around.top < 8) return { pose: begin, off: MUCH };
  const levels = colourLevels(frame, around, template.levels.length);
  let pose = begin;
  for (let n = levels.length - 1; n >= 0; n--) {
    const at = { template: template.levels[n], frame: levels[n], middle: [x, y] as const, held: begin };
    pose = stepped(at, pose, 2);
    if (whole) pose = stepped(at, pose, 4);
  }
  const shift = { template: template.levels[0], frame: levels[0], middle: [x, y] as const, held: begin };
  return { pose, off: colourOff(shift, pose) };
}

interface At {
  readonly template: TemplateLevel;
  readonly frame: ColourLevel;
  readonly middle: readonly [number, number];
  readonly held: LayerPose;
}

/** Gauss-Newton steps at one size. @param terms 2: a shift; 4: growth and turn as well */
function stepped(at: At, begin: LayerPose, terms: 2 | 4): LayerPose {
  const { template, frame } = at;
  const n = template.x.length;
  const [off, rows] = [new Float32Array(3 * n), new Float64Array(terms + 1)];
  const slopes = new Float32Array(6 * n);
  let pose = begin;
  for (let step = 0; step < STEPS; step++) {
    const scale = differences(at, pose, off);
    if (SLOPES.has(step)) slopesAt(at, pose, slopes);
    const normal = new NormalEquations(terms);
    let weights = 0;
    for (let i = 0; i < n; i++) {
      const sum = (off[3 * i] ** 2 + off[3 * i + 1] ** 2 + off[3 * i + 2] ** 2) / 3;
      if (!(sum < 1e6)) continue;
      const weight = 1 / (1 + sum / (scale * scale)) ** 2;
      weights += weight;
      for (let channel = 0; channel < 3; channel++) {
        const [gx, gy] = [slopes[6 * i + 2 * channel], slopes[6 * i + 2 * channel + 1]];
        rows[0] = gx;
        rows[1] = gy;
        if (terms === 4) {
          rows[2] = gx * template.x[i] + gy * template.y[i];
          rows[3] = gy * template.x[i] - gx * template.y[i];
        }
        rows[terms] = -off[3 * i + channel];
        normal.add(rows, 0, weight);
      }
    }
    if (terms === 4) hold(normal, pose, at.held, weights);
    const [dx, dy, grow = 0, turn = 0] = normal.solution();
    const next = {
      dx: pose.dx + dx,
      dy: pose.dy + dy,
      grow: bounded(pose.grow + grow),
      turn: bounded(pose.turn + turn),
    };
    if (!Number.isFinite(next.dx + next.dy + next.grow + next.turn)) return pose;
    pose = next;
    if (Math.hypot(dx, dy) < DONE * frame.factor) break;
  }
  return pose;
}

/** The frame's own slopes where the layer lies, across and down, grey levels a px of the whole picture. */
function slopesAt({ template, frame, middle }: At, pose: LayerPose, slopes: Float32Array): void {
  const out = new Float64Array(2);
  for (let i = 0; i < template.x.length; i++) {
    placeIn(pose, template.x[i], template.y[i], out);
    const u = inLevel(middle[0] + out[0], frame.left, frame.factor);
    const v = inLevel(middle[1] + out[1], frame.top, frame.factor);
    frame.planes.forEach((plane, channel) => {
      const to = 6 * i + 2 * channel;
      slopes[to] = (sampledAt(plane, u + 0.5, v) - sampledAt(plane, u - 0.5, v)) / frame.factor;
      slopes[to + 1] = (sampledAt(plane, u, v + 0.5) - sampledAt(plane, u, v - 0.5)) / frame.factor;
    });
  }
}

const bounded = (v: number): number => Math.min(MOST, Math.max(-MOST, v));

/** Growth and turn stay where they were, unless colours tell otherwise. */
function hold(normal: NormalEquations, pose: LayerPose, held: LayerPose, weights: number): void {
  const stiff = HELD * weights;
  normal.add(Float64Array.of(0, 0, 1, 0, held.grow - pose.grow), 0, stiff);
  normal.add(Float64Array.of(0, 0, 0, 1, held.turn - pose.turn), 0, stiff);
}

/** How far each colour is off, frame less key; Infinity outside. @returns what counts as noise here, grey levels */
function differences({ template, frame, middle }: At, pose: LayerPose, off: Float32Array): number {
  const out = new Float64Array(2);
  const { width, height } = frame.planes[0];
  const all: number[] = [];
  for (let i = 0; i < template.x.length; i++) {
    placeIn(pose, template.x[i], template.y[i], out);
    const u = inLevel(middle[0] + out[0], frame.left, frame.factor);
    const v = inLevel(middle[1] + out[1], frame.top, frame.factor);
    if (u < 0 || v < 0 || u > width - 1 || v > height - 1) {
      off[3 * i] = Infinity;
      continue;
    }
    let sum = 0;
    for (let channel = 0; channel < 3; channel++) {
      const by = sampledAt(frame.planes[channel], u, v) - template.colours[3 * i + channel];
      off[3 * i + channel] = by;
      sum += by * by;
    }
    all.push(sum / 3);
  }
  if (all.length === 0) return NOISE;
  const middleOff = Float64Array.from(all).sort()[all.length >> 1];
  return Math.min(MUCH, Math.max(NOISE, 1.5 * Math.sqrt(middleOff)));
}

/** What the colours are off by at a pose. */
function colourOff(at: At, pose: LayerPose): number {
  const off = new Float32Array(3 * at.template.x.length);
  differences(at, pose, off);
  let sum = 0;
  for (let i = 0; i < off.length; i += 3)
    sum += Math.min(MUCH, (Math.abs(off[i]) + Math.abs(off[i + 1]) + Math.abs(off[i + 2])) / 3 || MUCH);
  return sum / at.template.x.length;
}
