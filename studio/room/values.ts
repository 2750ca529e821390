import type { FillEdit } from '@/core/fill/edits';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { WayToCombine } from '@/core/matte/combine';
import type { BrushSettings } from '@/core/depth/brush';
import type { ShotDocument } from '@/core/shot/document';
import type { ParallaxUnit } from '@/core/stereo/units';
import type { Behind, Check, Found, HandEdit, RevealCount, Way } from '@/compute/ways';
import type { Grain } from '@/compute/preview.worker';
import type { RenderSummary, ShotState } from '../api';
import type { Storing } from './operations';

/** The stages that have work to do so far, in the order of work. */
export const STAGES = ['source', 'cut', 'depth', 'fill', 'stereo', 'output'] as const;
export type Stage = (typeof STAGES)[number];

export interface Notice {
  readonly id: number;
  readonly kind: 'error' | 'info';
  readonly text: string;
}

/** The brushes of the fill stage. */
export interface Hand {
  size: number;
  hardness: number;
  strength: number;
  /** Where clones are taken from, as distance from the stroke's first point; empty until a source is picked. */
  sources: { dx: number; dy: number }[];
  /** The picked places themselves, for a source that follows: undefined until the first stroke has tied them. */
  picked: { x: number; y: number }[];
  follows: boolean;
  scale: number;
  turn: number;
  flip: boolean;
  jitter: number;
  seamless: boolean;
  beyond: boolean;
  soft: number;
  lineWidth: number;
}

/** What a room knows and shows. */
export interface RoomValues {
  shot: ShotState;
  renders: RenderSummary[];
  /** The document with what is being dragged just now; equals the stored one when nothing is. */
  document: ShotDocument;
  stage: Stage;
  /** The opened way of working of each stage. */
  opened: Record<Stage, string>;
  /** The way to see that each stage was last left in. */
  ways: Record<Stage, Way>;
  /** True while the flip key is held. */
  flipped: boolean;
  markReveal: boolean;
  depthStrength: number;
  unit: ParallaxUnit;
  brush: BrushSettings;
  /** The plate in work; null is the back plate. */
  active: string | null;
  /** The choice in work: what will become a plate's matte. */
  choice: Choice;
  /** How the next ingredient joins the choice. */
  joining: WayToCombine;
  /** Strokes on the back plate go to its depth behind the plates. */
  paintBehind: boolean;
  /** Which ingredient of the choice is changed; undefined: the last. */
  editing: number | undefined;
  /** The choice leaves to other plates what they hold. */
  spare: boolean;
  flood: { tolerance: number; reach: number; connected: boolean };
  region: { side: 'in' | 'out'; size: number };
  /** Size of the brush that widens the band over hair, px. */
  hairSize: number;
  /** How large the proposed pieces are. */
  grain: Grain;
  /** Share of a cut or a fill that the server has done; undefined while it does none. */
  working: number | undefined;
  /** Share of the choice's band that the preview has solved; undefined while nothing is to be solved. */
  solving: number | undefined;
  ramp: {
    fromDepth: number;
    toDepth: number;
    reach: 'everywhere' | 'between';
    against: 'replace' | 'nearer' | 'farther';
  };
  outlineDepth: number;
  storing: Storing;
  /** The newest depth revision that the server made of what this page had already done to its own copy. */
  ownRevision: string;
  /** Counts up when the page's own copy of the depth may be wrong and must be fetched anew. */
  depthTicket: number;
  /** Map value under the pointer, 0 to 1; undefined while it is elsewhere. */
  hoverDepth: number | undefined;
  storedAt: string;
  /** Share of the preview that the eyes reveal, 0 to 1; -1 while unknown. */
  revealedShare: number;
  notice: Notice | undefined;
  /** Counts of pixels per depth, from the preview's own map; undefined until that is there. */
  histogramOf: ((bins: number) => Promise<number[]>) | undefined;
  /** Counts specks and rim pixels of the choice or the plate in work; undefined where there is neither. */
  inspectCut: ((px: number) => Promise<Found | undefined>) | undefined;
  /** How a cut is looked at alone. */
  check: Check;
  /** How the fill stage looks behind the plates. */
  behind: Behind;
  /** True while the key is held that makes nearer plates step aside. */
  stepAside: boolean;
  /** What hands have filled that the preview's rasters do not hold yet; `stored` once the server has it. */
  hands: readonly (HandEdit & { readonly stored: boolean })[];
  /** What is just being drawn. */
  drawing: FillEdit | undefined;
  /** What the fill brushes do. */
  hand: Hand;
  /** Proposals of the last texture fill, the one that was taken first. */
  proposals: { readonly plate: string | null; readonly revisions: readonly string[] } | undefined;
  /** Counts what the views uncover of each plate, nearest first; undefined where a newer count was asked for. */
  revealCounts: (() => Promise<RevealCount[] | undefined>) | undefined;
  /** Where the plate in work is stretched most. */
  worstStretch: (() => Promise<{ x: number; y: number; factor: number } | undefined>) | undefined;
  /** The newest counts; undefined while they are not known. */
  uncovered: readonly RevealCount[] | undefined;
  /** What an outline is drawn as. */
  outlineShape: 'corners' | 'curve' | 'rectangle' | 'ellipse';
}

/** How a room begins: a brush, a margin and the like by the picture's width. */
export function beginning(shot: ShotState, renders: RenderSummary[]): RoomValues {
  const { document } = shot;
  const part = (of: number, least: number): number => Math.max(least, Math.round(document.source.width / of));
  return {
    shot,
    renders,
    document,
    stage: 'stereo',
    opened: { source: 'came', cut: 'outline', depth: 'paint', fill: 'uncovered', stereo: 'budget', output: 'pair' },
    ways: {
      source: 'picture',
      cut: 'picture',
      depth: 'depth-over-picture',
      fill: 'picture',
      stereo: 'glasses',
      output: 'glasses',
    },
    flipped: false,
    markReveal: false,
    depthStrength: 0.6,
    unit: 'px',
    active: null,

    brush: { mode: 'set', depth: 0.7, size: part(20, 8), hardness: 0.5, strength: 1, pressure: 'strength' },
    ramp: { fromDepth: 0, toDepth: 1, reach: 'everywhere', against: 'replace' },
    outlineDepth: 0.7,
    paintBehind: false,

    choice: { ingredients: [], edge: PLAIN_EDGE },
    joining: 'add',
    editing: undefined,
    spare: true,
    outlineShape: 'corners',
    flood: { tolerance: 24, reach: 1, connected: true },
    region: { side: 'in', size: part(80, 6) },
    hairSize: part(30, 12),
    grain: 'middle',
    check: { ground: 'black', colour: '#7d4b8f', shiftPx: part(100, 4), rim: false },

    behind: { asidePx: 0, reveal: true, stretch: false, marginPx: 2, views: 2 },
    stepAside: false,
    hands: [],
    drawing: undefined,
    proposals: undefined,
    uncovered: undefined,
    hand: {
      size: part(32, 10),
      hardness: 0.6,
      strength: 1,
      sources: [],
      picked: [],
      follows: true,
      scale: 1,
      turn: 0,
      flip: false,
      jitter: 0,
      seamless: false,
      beyond: false,
      soft: 3,
      lineWidth: part(60, 6),
    },

    working: undefined,
    solving: undefined,
    storing: 'stored',
    storedAt: shot.changedAt,
    notice: undefined,
    ownRevision: document.depth.revision,
    depthTicket: 0,
    hoverDepth: undefined,
    revealedShare: -1,
    histogramOf: undefined,
    inspectCut: undefined,
    revealCounts: undefined,
    worstStretch: undefined,
  };
}
