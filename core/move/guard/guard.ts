import { movedView, openMove, type MovedView } from '../openMove';
import { speedAt } from '../speed';
import { projectionOf } from '../../camera/projection';
import { eyePlace } from '../../camera/rig';
import type { Move } from '../../camera/move';
import type { Rect } from '../../raster/geometry';
import type { Premultiplied8, Straight } from '../../raster/picture';
import { sceneAt, type Scene } from '../../scene/sceneAt';
import type { ShotRasters } from '../../shot/rasters';
import { frameFacts, SIDES, type Found, type FrameFacts } from './frameFacts';
import type { GuardedFrame } from './findings';
import { guardRasters } from './guardRasters';
import { parallaxAt } from './parallaxAt';
import { Stretched } from './stretched';

/** About so wide the guard looks, px. */
const WIDTH = 426;

/** Looks through a move for what must not be seen. */
export interface Guard {
  /** What is to be known of a frame. @param eyes -1/2 left to +1/2 right; null: the camera itself */
  see(scene: Scene, move: Move, frame: number, eyes: readonly (number | null)[]): GuardedFrame;
}

/**
 * @param fills what was filled in behind each plate; null: the back plate
 * @param scale raster px a px of the source
 * @param part what is handed over, px of the source
 */
export function openGuard(
  rasters: ShotRasters<Premultiplied8>,
  fills: ReadonlyMap<string | null, Straight | undefined>,
  scale: number,
  part: Rect,
): Guard {
  // An odd factor: the middle pixel of each group stands for it.
  const factor = Math.max(1, 2 * Math.round((rasters.picture.width / WIDTH - 1) / 2) + 1);
  const small = guardRasters(rasters, fills, factor);
  const smallScale = scale / factor;
  const width = Math.max(1, Math.round((part.right - part.left) * smallScale));
  const height = Math.max(1, Math.round((part.bottom - part.top) * smallScale));
  const move = openMove(small, {
    scale: smallScale,
    window: { left: part.left, top: part.top, scale: smallScale },
    size: { width, height },
    // What is told are places, not colours.
    edges: 'as-they-are',
  });
  const stretched = new Stretched(rasters, scale);
  const view: MovedView<Premultiplied8> = movedView(small.picture, { width, height });
  return {
    see(scene, made, frame, eyes) {
      const at = sceneAt(scene, made, frame);
      const facts = eyes.map((eye) => {
        move.render(at, eye, view);
        const place = eye === null ? undefined : eyePlace(at.rig, at.camera, at.pose, eye);
        const longest = stretched.see(at, projectionOf(at.camera, at.pose, place));
        return { ...frameFacts(view, smallScale, part), ...(longest ? { stretched: longest } : {}) };
      });
      return { frame, facts: together(facts), ...parallaxAt(at), speed: speedAt(scene, made, frame) };
    },
  };
}

/** The worst of all. */
function together(all: readonly FrameFacts[]): FrameFacts {
  const dry = { ...all[0].dry };
  const open = new Map<number, Found>();
  for (const facts of all) {
    for (const side of SIDES) dry[side] = Math.max(dry[side], facts.dry[side]);
    for (const [plate, found] of facts.open) open.set(plate, worse(open.get(plate), found));
  }
  const torn = all.map((facts) => facts.torn).reduce(worse);
  const stretched = all.map((facts) => facts.stretched).reduce((a, b) => (a && (!b || a.px >= b.px) ? a : b));
  return { dry, open, torn, ...(stretched ? { stretched } : {}) };
}

const worse = (a: Found | undefined, b: Found): Found => (a && a.px >= b.px ? a : b);
