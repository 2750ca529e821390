import type { DepthMake } from '@/core/depth/makers';
import { DEFAULT_CUES, type Cues } from '@/core/depth/start/cues';
import type { Fault } from '@/core/depth/faults';
import type { Cue } from '@/core/depth/start/generateStart';
import type { MarkStroke, MarksMake } from '@/core/depth/marks/markStroke';
import type { RemapBead } from '@/core/depth/remapTable';
import { marksOfPlate, type HeldMarks } from '@/core/shot/document';
import { makeLabel } from '@/core/depth/makers';
import type { DepthStep } from '@/server/shots/depthHistory';
import type { DepthByPair } from '@/server/shots/depth';
import type { Wipe } from '@/compute/depthTrial';
import { api, type ChangeAt, type VersionAction } from '../../api';
import { figure, signed } from '../../numbers';
import { FIRST_RELIEF, type ReliefPart } from './relief';
import { FIRST_SHAPE, type Shape } from './shapes';
import { partOf, type RoomCore, type SliceRoom } from '../../room/core';

/** How the next mark is drawn. */
export interface Marking {
  says: MarkStroke['says']['kind'];
  depth: number;
  by: number;
  width: number;
  /** The mark in work; undefined while none is. */
  chosen: string | undefined;
  /** The next press on a mark picks what a relation is to. */
  picking: boolean;
  /** What a relation is to; undefined until it is picked. */
  to: string | undefined;
  /** Whether marks make the map, or correct the one that is there; undefined: as is best. */
  way: MarksMake['by'] | undefined;
}

/** Two versions of a map side by side. */
export type DepthWipe = Omit<Wipe, 'target'>;

/** What making whole maps knows. */
export interface MakingSlice {
  cues: Cues;
  /** The cue that is looked at alone. */
  alone: Cue | undefined;
  /** A start is tried on the picture. */
  starting: boolean;
  marking: Marking;
  /** The marks of a plate (null: the back plate) as the hand has them, while they are not stored. */
  draft: { readonly plate: string | null; readonly marks: readonly MarkStroke[] } | undefined;
  /** How long the last map took in the preview, ms. */
  tookMs: number | undefined;
  remap: { readonly beads: readonly RemapBead[]; readonly invert: boolean };
  /** What was found in the map that shows in glasses; undefined while it is looked over. */
  faults: readonly Fault[] | undefined;
  shape: Shape;
  /** A shape is tried on the picture. */
  shaping: boolean;
  /** The bead of the curve that is in work. */
  remapBead: number;
  /** Shows another curve. */
  setRemap(remap: MakingSlice['remap']): void;
  relief: ReliefPart;
  /** The steps that changed the map in work, oldest first; undefined while they are looked up. */
  steps: readonly DepthStep[] | undefined;
  /**
   * Two versions of the map side by side, by their revisions (null: as it stands); undefined while none are compared.
   */
  wipe: DepthWipe | undefined;
  /** Compares other versions, or none. */
  setWipe(wipe: DepthWipe | undefined): void;
  /** Keeps the map of the plate in work under a name, drops a kept one, or takes an earlier one up again. */
  actOnVersions(label: string, act: VersionAction): Promise<void>;
  /** Shows a map without storing it; undefined: the stored one again. @param quick the hand has not let go */
  tryMake(make: DepthMake | undefined, quick?: boolean): void;
  /** Matches the source with a second photograph; done when its depth is there, or refused. */
  matchPair(file: File, onProgress: (share: number) => void): Promise<void>;
  /** Makes the map of the plate in work by a network of the user's own; done when it is there, or refused. */
  runNetwork(name: string): Promise<void>;
  /** A first map of a film's frame, read off the camera's own motion. */
  startFromMotion(): void;
  /** Makes the map of the plate in work, and stores it. */
  make(make: DepthMake): Promise<void>;
  /** Shows marks, and stores them once the hand lets go. */
  setMarks(marks: readonly MarkStroke[], how: { readonly keep: boolean; readonly by?: MarksMake['by'] }): void;
}

type Seen = RoomCore & MakingSlice;

const held = ({ document, active }: RoomCore): HeldMarks | undefined => marksOfPlate(document, active);
/** The stored map of the plate in work. */
const revisionNow = ({ document, active }: RoomCore): string | null =>
  active === null ? document.depth.revision : (document.plates.find(({ id }) => id === active)?.depth.revision ?? null);
/** What marks made before the map in work was painted on; null where nobody did. */
export function paintedSince(s: RoomCore): string | null {
  const made = held(s)?.made;
  return made !== undefined && made !== revisionNow(s) ? made : null;
}
/** The marks of the plate in work, as the hand has them. */
export const marksNow = (s: Seen): readonly MarkStroke[] => draftOf(s) ?? held(s)?.marks ?? NONE;
/** What of them is not stored; those of another plate stay with it. */
export const draftOf = ({ draft, active }: Seen): readonly MarkStroke[] | undefined =>
  draft?.plate === active ? draft.marks : undefined;
const NONE: readonly MarkStroke[] = [];
/** Whether they make the map or correct it: once there are some, that is settled. */
export const marksBy = (s: Seen): MarksMake['by'] =>
  held(s)?.by ?? s.marking.way ?? (s.untouched ? 'replace' : 'correct');

export const STRAIGHT: MakingSlice['remap'] = {
  beads: [
    { from: 0, to: 0 },
    { from: 1, to: 1 },
  ],
  invert: false,
};

export function makingSlice({ shot, get, set, push, pushLong }: SliceRoom<MakingSlice>): MakingSlice {
  const shown = (): void => {
    set({ trialTicket: get().trialTicket + 1 });
  };
  return {
    cues: DEFAULT_CUES,
    alone: undefined,
    starting: false,
    marking: {
      says: 'depth',
      depth: 0.7,
      by: 0.04,
      width: partOf(shot, 110, 6),
      chosen: undefined,
      picking: false,
      to: undefined,
      way: undefined,
    },
    draft: undefined,
    tookMs: undefined,
    remap: STRAIGHT,
    faults: undefined,
    shape: FIRST_SHAPE,
    shaping: false,
    relief: FIRST_RELIEF,
    steps: undefined,
    wipe: undefined,
    setWipe: (wipe) => {
      const s = get();
      set({ wipe });
      void s.preview?.tryDepth(wipe && { ...wipe, target: s.active }).then(shown, (error: unknown) => {
        get().notify('error', `The two versions cannot be shown. ${(error as Error).message}`);
      });
    },
    actOnVersions: (label, act) =>
      new Promise((done) => {
        push({
          label,
          says: act,
          send: (at: ChangeAt) => api.depthVersions(shot.id, at, act),
          ended: () => {
            done();
          },
        });
      }),
    remapBead: 0,
    setRemap: (remap) => {
      set({ remap });
      get().tryMake({ kind: 'remap', beads: [...remap.beads], invert: remap.invert }, true);
    },
    tryMake: (make, quick = false) => {
      const s = get();
      const target = s.active;
      const before = make?.kind === 'marks' ? held(s) : undefined;
      const base = before?.base ?? null;
      const painted = make?.kind === 'marks' && !make.overPaint ? paintedSince(s) : null;
      void s.preview?.tryDepth(make && { make, target, base, painted, quick }).then(
        (ms) => {
          if (ms === undefined) return;
          if (make) set({ tookMs: ms });
          shown();
        },
        (error: unknown) => {
          get().notify('info', (error as Error).message);
        },
      );
    },
    matchPair: (file, onProgress) =>
      new Promise((done) => {
        pushLong({
          label: `Depth from ${file.name}`,
          says: file.name,
          send: (at: ChangeAt) => api.depthByPair(shot.id, at, file, onProgress),
          stored: (next) => {
            const { nearPx, farPx, filled } = next as DepthByPair;
            get().notify(
              'info',
              `Matched: as photographed, parallax goes from ${signed(nearPx, 1)} px nearest to ${signed(farPx, 1)} px farthest; ${figure(filled * 100)} % is shown by one photograph only and was filled from the farther side.`,
            );
          },
          ended: () => {
            done();
          },
        });
      }),
    runNetwork: (name) =>
      new Promise((done) => {
        const { active: plate, cues } = get();
        pushLong({
          label: `Depth by ${name}`,
          says: name,
          send: (at: ChangeAt) => api.networkDepth(shot.id, at, { network: name, edges: cues.edges, plate }),
          stored: () => {
            // What is stored is looked at from now on.
            get().tryMake(undefined);
            set({ starting: false });
          },
          ended: () => {
            done();
          },
        });
      }),
    startFromMotion: () => {
      pushLong({
        label: 'Depth from motion',
        says: 'motion',
        send: (at: ChangeAt) => api.depthByMotion(shot.id, at),
        stored: () => {
          // What is stored is looked at from now on.
          get().tryMake(undefined);
          set({ starting: false });
        },
      });
    },
    make: (make) =>
      new Promise((done) => {
        const { active: plate, draft: sent } = get();
        pushLong({
          label: makeLabel(make),
          says: make,
          send: (at: ChangeAt) => api.makeDepth(shot.id, at, make, plate),
          ended: (stored) => {
            // What could not be stored is not shown either; what was is fetched in its place.
            if (!stored) get().tryMake(undefined);
            // A mark that is being drawn by now goes on.
            if (get().draft === sent) set({ draft: undefined });
            done();
          },
        });
      }),
    setMarks: (marks, { keep, by = marksBy(get()) }) => {
      set({ draft: { plate: get().active, marks } });
      const make: MarksMake = { kind: 'marks', marks: [...marks], by };
      const speaks = marks.some(({ says }) => says.kind === 'depth');
      if (speaks || marks.length === 0) get().tryMake(make, !keep);
      if (keep && (speaks || held(get()))) void get().make(make);
    },
  };
}
