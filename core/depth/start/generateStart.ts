import { enlargePlane } from '../../raster/enlargePlane';
import type { Picture8 } from '../../raster/picture';
import { fitToEdges } from '../fitToEdges';
import type { Cues } from './cues';
import { detail, type Detail } from './detail';
import { transmission } from './haze';
import { roomDepth } from './room';
import { saliency, type Saliency } from './saliency';
import { sky } from './sky';
import { vanishingPoint, type VanishingPoint } from './vanishingPoint';
import { ranked, startLook, type StartLook } from './startLook';

/** What each cue says by itself, 0 far to 1 near, at the look's size. */
export const CUES = ['position', 'saliency', 'detail', 'haze', 'room', 'sky'] as const;
export type Cue = (typeof CUES)[number];

/** The least and greatest of values that are laid between far and near: so many of a hundred beyond are cut off. */
const CUT = 0.01;

/** A start of a depth map, read off one picture. It is a start, not a truth. */
export class Start {
  private readonly look: StartLook;
  private readonly said: {
    saliency?: Saliency;
    detail?: Detail;
    haze?: Float32Array;
    sky?: Uint8Array;
    vanishing?: { readonly point: VanishingPoint | undefined };
  } = {};

  constructor(private readonly picture: Picture8) {
    this.look = startLook(picture);
  }

  /** How far detail speaks of depth here, 0 to 1. */
  get sharpness(): number {
    return this.detailOf().gate;
  }

  /** How far what stands out speaks of depth here, 0 to 1. */
  get standing(): number {
    return this.saliencyOf().gate;
  }

  /** Where lines that go away meet; undefined where they do not agree. */
  get vanishing(): VanishingPoint | undefined {
    this.said.vanishing ??= { point: vanishingPoint(this.look) };
    return this.said.vanishing.point;
  }

  /** What one cue says, at the picture's size, 0 to 1. */
  cue(cue: Cue, cues: Cues): Float32Array {
    return enlargePlane(this.plane(cue, cues), this.look, this.picture);
  }

  /** All of them together: depth 0 to 1 a pixel, at the picture's size. */
  depth(cues: Cues): Float32Array {
    const { width, height } = this.look;
    const sum = new Float32Array(width * height);
    const add = (cue: Cue, weight: number): void => {
      if (weight === 0) return;
      const plane = this.plane(cue, cues);
      for (let i = 0; i < sum.length; i++) sum[i] += weight * plane[i];
    };
    if (cues.shape === 'none') add('position', cues.position);
    else add('room', cues.room);
    add('saliency', cues.saliency * this.saliencyOf().gate);
    add('detail', cues.detail * this.sharpness);
    add('haze', cues.haze);
    // A room alone is what it is: its planes are not stretched.
    const alone = cues.shape !== 'none' && cues.saliency === 0 && cues.haze === 0 && cues.detail * this.sharpness === 0;
    const depth = alone ? sum.map((v) => v / Math.max(1e-9, cues.room)) : spread(sum);
    if (cues.sky) this.skyOf().forEach((v, i) => v && (depth[i] = 0));
    const out = enlargePlane(depth, this.look, this.picture);
    fitToEdges(out, this.picture, { edges: cues.edges, from: width });
    return out;
  }

  private plane(cue: Cue, cues: Cues): Float32Array {
    switch (cue) {
      case 'position':
        return roomDepth(this.look, { ...cues, shape: 'none' });
      case 'room':
        return roomDepth(this.look, cues);
      case 'saliency':
        return this.saliencyOf().plane;
      case 'detail':
        return this.detailOf().plane;
      case 'haze':
        return (this.said.haze ??= ranked(transmission(this.look)));
      case 'sky':
        return Float32Array.from(this.skyOf(), (v) => 1 - v);
    }
  }

  private saliencyOf(): Saliency {
    return (this.said.saliency ??= saliency(this.look));
  }

  private detailOf(): Detail {
    return (this.said.detail ??= detail(this.look));
  }

  private skyOf(): Uint8Array {
    return (this.said.sky ??= sky(this.look));
  }
}

/** Values laid between 0 and 1, the outermost cut off. */
function spread(plane: Float32Array): Float32Array {
  const sorted = Float32Array.from(plane).sort();
  const least = sorted[Math.floor(CUT * (sorted.length - 1))];
  const most = sorted[Math.ceil((1 - CUT) * (sorted.length - 1))];
  return plane.map((v) => Math.min(1, Math.max(0, (v - least) / Math.max(1e-9, most - least))));
}
