import equal from 'fast-deep-equal';
import { createStore } from 'zustand/vanilla';
import type { BrushSettings } from '@/core/depth/brush';
import { editLabel, type DepthEdit } from '@/core/depth/edit';
import { patchDocument, type DocumentPatch, type Recipe, type ShotDocument } from '@/core/shot/document';
import type { ParallaxUnit } from '@/core/stereo/units';
import type { Way } from '@/compute/ways';
import { api, Refusal, type RenderSummary, type ShotState } from '../api';
import { OperationQueue, type Storing } from './operations';

/** The stages that have work to do so far, in the order of work. */
export const STAGES = ['source', 'depth', 'stereo', 'output'] as const;
export type Stage = (typeof STAGES)[number];

export interface Notice { readonly id: number; readonly kind: 'error' | 'info'; readonly text: string }

export interface RoomState {
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
  ramp: { fromDepth: number; toDepth: number; reach: 'everywhere' | 'between'; against: 'replace' | 'nearer' | 'farther' };
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
  set(part: Partial<RoomState>): void;
  notify(kind: Notice['kind'], text: string): void;
  /** Shows a change at once without storing it. */
  try(patch: DocumentPatch): void;
  /** Stores what was tried. */
  keep(label: string): void;
  /** Shows and stores a change. */
  change(label: string, patch: DocumentPatch): void;
  edit(edit: DepthEdit): void;
  step(action: 'undo' | 'redo'): void;
  importDepth(file: File, near: 'white' | 'black', smooth: boolean, onProgress: (share: number) => void): Promise<void>;
  refresh(): Promise<void>;
  render(recipe: Recipe): Promise<void>;
  actOnRender(id: string, action: 'stop' | 'retry' | 'remove'): Promise<void>;
}

export type RoomStore = ReturnType<typeof createRoom>;

/** The one that is held where the other says the same, so that nothing is drawn anew for it. */
function kept<T>(held: T, next: T): T {
  return equal(held, next) ? held : next;
}

/** The state of one room and everything that can be done in it. Data walks one way: actions change it, components show it. */
export function createRoom(shot: ShotState, renders: RenderSummary[]) {
  let notices = 0;
  return createStore<RoomState>()((set, get) => {
    const take = (next: ShotState, whole: boolean): void => {
      set((s) => ({
        shot: next,
        // While more changes are under way the page is ahead of the server; only the depth's revision is taken over.
        document: kept(s.document, whole ? next.document : { ...s.document, depth: { ...s.document.depth, revision: next.document.depth.revision } }),
        storedAt: next.changedAt,
      }));
    };
    const queue = new OperationQueue(shot.head, {
      stored: (next, idle, operation) => {
        // After an undo among painted strokes the page's copy cannot be trusted: it is fetched instead.
        if (operation.done && !stepped) set({ ownRevision: next.document.depth.revision });
        if (idle) stepped = false;
        take(next, idle);
      },
      storing: (storing) => { set({ storing }); },
      refused: (error) => {
        get().notify('error', error.message);
        set((s) => ({ depthTicket: s.depthTicket + 1, document: s.shot.document }));
        void get().refresh();
      },
    });
    let stepped = false;
    let tried: DocumentPatch = {};
    return {
      shot, renders, document: shot.document,
      stage: 'stereo',
      ways: { source: 'picture', depth: 'depth-over-picture', stereo: 'glasses', output: 'glasses' },
      opened: { source: 'came', depth: 'paint', stereo: 'budget', output: 'pair' },
      flipped: false, markReveal: false, depthStrength: 0.6, unit: 'px',
      brush: { mode: 'set', depth: 0.7, size: Math.max(8, Math.round(shot.document.source.width / 20)), hardness: 0.5, strength: 1, pressure: 'strength' },
      ramp: { fromDepth: 0, toDepth: 1, reach: 'everywhere', against: 'replace' },
      outlineDepth: 0.7,
      storing: 'stored', ownRevision: shot.document.depth.revision, depthTicket: 0, hoverDepth: undefined, storedAt: shot.changedAt, revealedShare: -1, notice: undefined, histogramOf: undefined,
      set: (part) => { set(part); },
      notify: (kind, text) => { set({ notice: { id: ++notices, kind, text } }); },
      try: (patch) => {
        tried = { ...tried, ...patch };
        set((s) => ({ document: patchDocument(s.document, patch) }));
      },
      keep: (label) => {
        if (Object.keys(tried).length === 0) return;
        const patch = tried;
        tried = {};
        queue.push({ label, send: (head) => api.change(shot.id, head, label, patch) });
      },
      change: (label, patch) => {
        get().try(patch);
        get().keep(label);
      },
      edit: (edit) => { queue.push({ label: editLabel(edit), done: true, send: (head) => api.edit(shot.id, head, edit) }); },
      step: (action) => {
        tried = {};
        const { shot: now } = get();
        if (!queue.busy && (action === 'undo' ? now.undo : now.redo) === null) return;
        stepped = true;
        queue.push({ label: action, send: (head) => api.history(shot.id, head, action) });
      },
      importDepth: async (file, near, smooth, onProgress) => {
        const next = await api.importDepth(shot.id, get().shot.head, file, near, smooth, onProgress);
        queue.moveTo(next.head);
        take(next, true);
      },
      refresh: async () => {
        try {
          const asked = get().shot;
          const fresh = await api.shot(shot.id);
          set({ renders: fresh.renders });
          // An answer that was on its way while something was stored tells of the past.
          if (get().shot !== asked || queue.busy || Object.keys(tried).length > 0) return;
          if (fresh.shot.head === asked.head) {
            if (fresh.shot.name !== asked.name) set({ shot: fresh.shot });
            return;
          }
          queue.moveTo(fresh.shot.head);
          take(fresh.shot, true);
          if (get().notice === undefined) get().notify('info', 'This shot was changed in another window. You see its newest state.');
        } catch (error) {
          if (!(error instanceof Refusal && error.passing)) get().notify('error', (error as Error).message);
        }
      },
      render: async (recipe) => {
        try {
          await api.render(shot.id, recipe);
          await get().refresh();
        } catch (error) {
          get().notify('error', (error as Error).message);
        }
      },
      actOnRender: async (id, action) => {
        try {
          await api.actOnRender(id, action);
        } catch (error) {
          get().notify('error', (error as Error).message);
        }
        await get().refresh();
      },
    };
  });
}
