import type { Remote } from 'comlink';
import type { LocalEdit } from '@/compute/preview';
import type { PreviewApi } from '@/compute/preview.worker';
import type { DepthShown, HandEdit, Way } from '@/compute/look';
import type { DepthEdit } from '@/core/depth/edits';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { Recipe } from '@/core/recipes';
import type { DocumentPatch, ShotDocument } from '@/core/shot/document';
import type { PlanAxis } from '@/core/scene/plan';
import type { ParallaxUnit } from '@/core/stereo/units';
import type { Carries } from '@/server/shots/carryShot';
import type { WorkLook } from '@/server/shots/longWork';
import type { PlateKeyAction } from '@/server/shots/plateKeys';
import type { ShownFrame } from '../viewer/frames';
import type { BorderOrder, ChangeAt, FootageState, PlateAction, RenderSummary, ShotState } from '../api';
import type { Operation, Storing } from './operations';

export interface Notice {
  readonly id: number;
  readonly kind: 'error' | 'info';
  readonly text: string;
}

/** A change that could not be made: what it was, why not, and what it said. */
export interface Kept {
  readonly id: number;
  readonly label: string;
  readonly why: string;
  readonly says: string;
}

/**
 * What another stage may help with: places that nobody has filled, surfaces that tear, a picture without depth, a
 * part that is to be chosen.
 */
export type Need = 'open' | 'torn' | 'flat' | 'unchosen';

/** What every part of a room knows. What belongs to one stage alone lies in that stage's slice. */
export interface RoomValues {
  shot: ShotState;
  renders: RenderSummary[];
  /** The document with what is being dragged just now; equals the stored one when nothing is. */
  document: ShotDocument;
  /** True while the shot has one depth everywhere and nothing was done to it. */
  untouched: boolean;
  /** The stage that is open, by its key. */
  stage: string;
  /** The opened way of working of each stage. */
  opened: Readonly<Record<string, string>>;
  /** The way to see that each stage was last left in. */
  ways: Readonly<Record<string, Way>>;
  /** True while the flip key is held. */
  flipped: boolean;
  markReveal: boolean;
  depthStrength: number;
  /**
   * What depth over the picture shows, its step of parallax (null: a round one of its own), and where its light comes
   * from.
   */
  depthShown: DepthShown;
  contourPx: number | null;
  lightDeg: number;
  unit: ParallaxUnit;
  /** What the depth board shows: the plates as cards, or the scene from above or from the side. */
  board: 'cards' | PlanAxis;
  /** The plate in work; null is the back plate. */
  active: string | null;
  /** The choice in work: what will become a plate's matte, or an area to fill. */
  choice: Choice;
  /** Share of long work that the server has done; undefined while it does none. */
  working: number | undefined;
  /** What can be seen of it already; null while that is nothing. */
  workLook: WorkLook | null;
  /** Share of the choice's band that the preview has solved; undefined while nothing is to be solved. */
  solving: number | undefined;
  storing: Storing;
  /** Changes that could not be made, until they are dismissed. */
  refused: readonly Kept[];
  /** The newest depth revision that the server made of what this page had already done to its own copy. */
  ownRevision: string;
  /** Depth edits of this page that the server has not stored yet. */
  unstored: readonly number[];
  /** What hands have filled that the preview's rasters do not hold yet; `stored` once the server has it. */
  hands: readonly (HandEdit & { readonly stored: boolean })[];
  /** Counts up when the page's own copy of the depth may be wrong and must be fetched anew. */
  depthTicket: number;
  /** Counts up when the preview shows another map that is tried. */
  trialTicket: number;
  /** Counts up when the preview has taken other rasters. */
  rasterTicket: number;
  /** Depth on the ruler under the pointer, 0 to 1; undefined while it is elsewhere. */
  hoverDepth: number | undefined;
  /** It is looked at more closely than the preview has pixels. */
  closer: boolean;
  /** A hand tries something and has not let it go. */
  underHand: boolean;
  /** Counts the pictures that were shown. */
  looks: number;
  storedAt: string;
  /** Share of the preview that the eyes reveal, 0 to 1; -1 while unknown. */
  revealedShare: number;
  notice: Notice | undefined;
  /** The page's renderer, once it holds the shot. */
  preview: Remote<PreviewApi> | undefined;
  /** Brings a full-size place of the picture to the middle, close up. */
  lookAt: ((at: { readonly x: number; readonly y: number }) => void) | undefined;
  /** Shows a finished frame of the whole picture in place of what is shown. */
  showFrame: ((frame: ShownFrame | ImageBitmap) => void) | undefined;
  /** The frame of footage that is seen, from 0; the document follows when it rests there. 0 for a still. */
  moment: number;
  /** Footage is being played. */
  rolls: boolean;
  /** What is known of the frames beside the document; undefined for a still, and until it is known. */
  footage: FootageState | undefined;
  /** Frames whose depth is trusted less are marked, 0 to 1. */
  trustLimit: number;
}

/** What can be done with a film, in any stage. */
export interface FilmActs {
  /** Goes to a frame of footage. */
  goTo(moment: number): void;
  /** Plays footage, or holds it. */
  roll(on: boolean): void;
  /** The document goes to the frame that is seen. */
  settleMoment(): void;
  /** Takes what is known of the frames. */
  takeFootage(footage: FootageState): void;
  /** Gives the frame depth of its own, or takes it away. */
  depthKey(action: 'set' | 'drop'): void;
  /** Gives a plate a key at the frame, takes it away, or says that it is not to be seen there. */
  plateKey(plate: string, action: PlateKeyAction): void;
  /** Carries what keys hold, or what lies behind plates, to all other frames. */
  carry(what: Carries): Promise<void>;
}

/** What can be done in any stage. */
export interface RoomActs extends FilmActs {
  set(part: object): void;
  notify(kind: Notice['kind'], text: string): void;
  /** Shows a change at once without storing it. */
  try(patch: DocumentPatch): void;
  /** Stores what was tried. */
  keep(label: string): void;
  /** Stores what was tried once the hand rests: a key that is held steps many times and is one change. */
  keepSoon(label: string): void;
  /** Stores now what waits for the hand to rest. */
  settle(): void;
  /** Shows and stores a change. */
  change(label: string, patch: DocumentPatch): void;
  /** Stores an edit of a depth, which the page does to its own copy; gives what the preview is told. */
  editDepth(edit: DepthEdit, target: { readonly plate: string | null; readonly behind: boolean }): LocalEdit;
  plan(name: string): void;
  removePlate(id: string): void;
  /** Duplicates, merges, brings in or matches plates. */
  actOnPlates(label: string, act: PlateAction): void;
  /** Puts more canvas around the picture; done when it is there, or refused. */
  extendBorder(border: BorderOrder): Promise<void>;
  /** Opens the stage that helps with something. */
  goFor(need: Need): void;
  step(action: 'undo' | 'redo'): void;
  refresh(): Promise<void>;
  stopWork(): void;
  dismiss(kept: number): void;
  render(recipe: Recipe): Promise<void>;
  actOnRender(id: string, action: 'stop' | 'retry' | 'remove'): Promise<void>;
}

export type RoomCore = RoomValues & RoomActs;

/** What a slice makes its values and acts of. */
export interface SliceRoom<Slice extends object> {
  readonly shot: ShotState;
  get(): RoomCore & Slice;
  set(part: Partial<RoomValues & Slice>): void;
  /** Sends a change when all before it are stored. */
  push(operation: Operation): void;
  /** The same for long work, whose share is followed. */
  pushLong(operation: Operation): void;
}

/** A part of the picture's width, at least so many px: how large a brush begins. */
export const partOf = (shot: ShotState, parts: number, least: number): number =>
  Math.max(least, Math.round(shot.document.source.width / parts));

export const NO_CHOICE: Choice = { ingredients: [], edge: PLAIN_EDGE };

export type { ChangeAt };
