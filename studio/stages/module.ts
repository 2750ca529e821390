import type { ComponentType } from 'react';
import type { StoreApi } from 'zustand';
import type { Way } from '@/compute/look';
import type { Ask } from '@/compute/lenses';
import type { PlanPlace } from '../depth-board/plan/planPlace';
import type { WayOfWorking } from '../parts/Ways';
import type { Need, RoomCore, SliceRoom } from '../room/core';
import type { Ruler } from '../time/ruler';
import type { Bench, UseTool } from '../viewer/tool';

/** How a shot stands when its room is opened. */
export interface Opening {
  /** It has one depth everywhere, and no plates. */
  readonly untouched: boolean;
}

/** All that the room knows of a stage. A new stage is a folder with one of these, and a name in the list of stages. */
export interface StageModule<Slice extends object = object> {
  readonly key: string;
  /** As it stands in the stage row. */
  readonly name: string;
  /** How the stage stands, in at most fourteen letters. */
  stands(state: RoomCore & Slice): string;
  /** Its ways of working. */
  readonly ways: readonly WayOfWorking[];
  /** The one that is open at first. @default the first */
  readonly opens?: string;
  /** What stands over the ways of working. */
  readonly Head: ComponentType;
  /** The ways of working are one line each, where there are many. @default false */
  readonly compact?: boolean;
  /** The way to see in which it begins. */
  readonly seen: Way;
  /** True where a room opens with this stage; the first stage that says so is opened. @default never */
  beginsWith?(opening: Opening): boolean;
  /** Its own values and acts. */
  slice(room: SliceRoom<Slice>): Slice;
  /** The tool of a way of working, by that way's key; ways without one leave the hand to panning. */
  readonly tools: Readonly<Record<string, UseTool>>;
  /** Which tool is in hand, by its key in `tools`. @default that of the opened way of working */
  tool?(state: RoomCore & Slice): string | undefined;
  /** Why no tool can work just now; undefined where it can. @default it can */
  refuses?(state: RoomCore & Slice): string | undefined;
  /** What is said where a tool is used on the eyes' views, which are not the source. */
  readonly wrongWay: string;
  /** What the flat ways to see show. */
  lens(state: RoomCore & Slice): Ask;
  /** What the ways to see of the eyes show. @default the eyes' views */
  eyes?(state: RoomCore & Slice): Ask;
  /** So many pictures it shows beside each other, each in its way to see. @default one */
  pictures?(state: RoomCore & Slice): number;
  /** What the foot says of the picture. @default what came */
  readonly pictureNote?: string;
  /** What a plate's card says beside its depths: a warning; undefined where there is none. @default none */
  cardNote?(state: RoomCore & Slice, plate: string | null): string | undefined;
  /**
   * A depth of the ruler at which its brush works, to be marked on the board; undefined where there is none. @default
   * none
   */
  boardMark?(state: RoomCore & Slice): number | undefined;
  /** How far around a window in detail its pictures take from, px of the source. @default as far as the eyes do */
  reach?(state: RoomCore & Slice): number;
  /** What it draws in the plan, and below it. @default where the source camera looks */
  readonly Plan?: ComponentType<{ readonly place: PlanPlace }>;
  /** What it draws over the picture, in any way to see. @default nothing */
  readonly Over?: ComponentType<{ readonly bench: Bench }>;
  /** What stands under the picture. @default nothing */
  readonly Below?: ComponentType;
  /** What it adds to the strip of footage, and how high that is, css px. @default nothing */
  readonly Strip?: {
    readonly Row: ComponentType<{ readonly ruler: Ruler; readonly top: number }>;
    readonly height: number;
  };
  /** What stands in the foot, which then lies above it. @default what belongs to the way to see */
  readonly Foot?: ComponentType;
  /** What it helps other stages with, and in which way of working; null: the one that is open. @default nothing */
  readonly helps?: Partial<Record<Need, string | null>>;
  /** Keys of its own; true where a key was taken. */
  onKey?(event: KeyboardEvent, store: StoreApi<RoomCore & Slice>): boolean;
  onKeyUp?(event: KeyboardEvent, store: StoreApi<RoomCore & Slice>): void;
  /** Its keys for the sheet of keys: which, and what they do. */
  readonly keys?: readonly (readonly [string, string])[];
}
