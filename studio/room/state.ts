import equal from 'fast-deep-equal';
import { createStore } from 'zustand/vanilla';
import { PLAIN_EDGE, type Choice, type Ingredient } from '@/core/matte/choice';
import type { WayToCombine } from '@/core/matte/combine';
import type { BrushSettings } from '@/core/depth/brush';
import { editLabel, type DepthEdit } from '@/core/depth/edit';
import { patchDocument, type DocumentPatch, type Recipe, type ShotDocument } from '@/core/shot/document';
import type { ParallaxUnit } from '@/core/stereo/units';
import type { Ground, Way } from '@/compute/ways';
import { api, Refusal, type RenderSummary, type ShotState } from '../api';
import { OperationQueue, type Storing } from './operations';

/** The stages that have work to do so far, in the order of work. */
export const STAGES = ['source', 'cut', 'depth', 'stereo', 'output'] as const;
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
  /** The plate in work; null is the back plate. */
  active: string | null;
  /** The choice in work: what will become a plate's matte. */
  choice: Choice;
  /** How the next ingredient joins the choice. */
  joining: WayToCombine;
  flood: { tolerance: number; reach: number; connected: boolean };
  region: { side: 'in' | 'out'; size: number };
  /** True while the server cuts a plate. */
  cutting: boolean;
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
  /** Counts specks of the choice or the plate in work; -1 where there is neither. */
  specksOf: ((px: number) => Promise<number>) | undefined;
  /** The ground on which a cut is checked. */
  ground: Ground;
  /** What an outline is drawn as. */
  outlineShape: 'corners' | 'rectangle' | 'ellipse';
  set(part: Partial<RoomState>): void;
  notify(kind: Notice['kind'], text: string): void;
  /** Shows a change at once without storing it. */
  try(patch: DocumentPatch): void;
  /** Stores what was tried. */
  keep(label: string): void;
  /** Shows and stores a change. */
  change(label: string, patch: DocumentPatch): void;
  edit(edit: DepthEdit): void;
  /** Adds an ingredient to the choice, or changes the last one of the same kind. */
  choose(ingredient: Ingredient, instead?: boolean): void;
  plan(name: string): void;
  /** Cuts the choice into a planned plate, or into a new one. */
  cut(plate: string | null, name: string): void;
  removePlate(id: string): void;
  step(action: 'undo' | 'redo'): void;
  importDepth(file: File, near: 'white' | 'black', smooth: boolean, onProgress: (share: number) => void): Promise<void>;
  refresh(): Promise<void>;
  render(recipe: Recipe): Promise<void>;
  actOnRender(id: string, action: 'stop' | 'retry' | 'remove'): Promise<void>;
}

export type RoomStore = ReturnType<typeof createRoom>;

/** A document with the revisions of another: what the server has stored meanwhile, under changes that are still on their way. */
function withRevisions(held: ShotDocument, next: ShotDocument): ShotDocument {
  const plates = held.plates.map((p) => {
    const fresh = next.plates.find((n) => n.id === p.id);
    return fresh ? { ...p, matte: fresh.matte, depth: { ...p.depth, revision: fresh.depth.revision } } : p;
  });
  return { ...held, plates, depth: { ...held.depth, revision: next.depth.revision } };
}

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
        document: kept(s.document, whole ? next.document : withRevisions(s.document, next.document)),
        active: s.active !== null && next.document.plates.some((p) => p.id === s.active) ? s.active : null,
        storedAt: next.changedAt,
      }));
    };
    const queue = new OperationQueue(shot.head, {
      stored: (next, idle, operation) => {
        // After an undo among painted strokes the page's copy cannot be trusted: it is fetched instead.
        if (operation.done && !stepped) {
          const { plate } = operation.done;
          set({ ownRevision: (plate === null ? next.document.depth.revision : next.document.plates.find((p) => p.id === plate)?.depth.revision) ?? '' });
        }
        if (operation.cuts) {
          const before = new Set(get().shot.document.plates.map((p) => p.id));
          set((s) => ({ cutting: false, choice: { ingredients: [], edge: PLAIN_EDGE }, active: operation.cuts!.plate ?? next.document.plates.find((p) => !before.has(p.id))?.id ?? s.active }));
        }
        if (idle) stepped = false;
        take(next, idle);
      },
      storing: (storing) => { set({ storing }); },
      refused: (error) => {
        get().notify('error', error.message);
        set((s) => ({ depthTicket: s.depthTicket + 1, document: s.shot.document, cutting: false }));
        void get().refresh();
      },
    });
    let stepped = false;
    let tried: DocumentPatch = {};
    return {
      shot, renders, document: shot.document,
      stage: 'stereo',
      ways: { source: 'picture', cut: 'picture', depth: 'depth-over-picture', stereo: 'glasses', output: 'glasses' },
      opened: { source: 'came', cut: 'outline', depth: 'paint', stereo: 'budget', output: 'pair' },
      flipped: false, markReveal: false, depthStrength: 0.6, unit: 'px',
      brush: { mode: 'set', depth: 0.7, size: Math.max(8, Math.round(shot.document.source.width / 20)), hardness: 0.5, strength: 1, pressure: 'strength' },
      active: null, choice: { ingredients: [], edge: PLAIN_EDGE }, joining: 'add', flood: { tolerance: 24, reach: 1, connected: true }, region: { side: 'in', size: Math.max(6, Math.round(shot.document.source.width / 80)) }, cutting: false,
      ramp: { fromDepth: 0, toDepth: 1, reach: 'everywhere', against: 'replace' },
      outlineDepth: 0.7,
      storing: 'stored', ownRevision: shot.document.depth.revision, depthTicket: 0, hoverDepth: undefined, storedAt: shot.changedAt, revealedShare: -1, notice: undefined, histogramOf: undefined, specksOf: undefined, ground: 'black', outlineShape: 'corners',
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
      edit: (edit) => {
        const plate = get().active;
        queue.push({ label: editLabel(edit), done: { plate }, send: (head) => api.edit(shot.id, head, plate, edit) });
      },
      choose: (ingredient, instead = false) => {
        set((s) => {
          const { ingredients } = s.choice;
          const last = ingredients[ingredients.length - 1];
          const kept = instead && last?.kind === ingredient.kind ? ingredients.slice(0, -1) : ingredients;
          return { choice: { ...s.choice, ingredients: [...kept, ingredient] } };
        });
      },
      plan: (name) => { queue.push({ label: `Plan ${name}`, send: (head) => api.plates(shot.id, head, { action: 'plan', name }) }); },
      cut: (plate, name) => {
        const { choice } = get();
        set({ cutting: true });
        queue.push({ label: `Cut ${name}`, cuts: { plate }, send: (head) => api.plates(shot.id, head, { action: 'cut', plate, name, choice }) });
      },
      removePlate: (id) => { queue.push({ label: 'Remove a plate', send: (head) => api.plates(shot.id, head, { action: 'remove', plate: id }) }); },
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
