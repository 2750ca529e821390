import type { FillEdit } from '@/core/fill/edits';
import type { Ingredient } from '@/core/matte/ingredients';
import { editLabel, type DepthEdit } from '@/core/depth/edits';
import equal from 'fast-deep-equal';
import { createStore } from 'zustand/vanilla';
import { PLAIN_EDGE } from '@/core/matte/choice';
import { patchDocument, type DocumentPatch, type Recipe, type ShotDocument } from '@/core/shot/document';
import {
  api,
  Refusal,
  type BorderOrder,
  type FillAction,
  type PlateAction,
  type RenderSummary,
  type ShotState,
} from '../api';
import { OperationQueue, type Operation } from './operations';
import { beginning, type Notice, type RoomValues } from './values';

/** What a room knows and shows, and everything that can be done in it. */
export interface RoomState extends RoomValues {
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
  /** Puts another ingredient in the place of one. */
  changeIngredient(n: number, ingredient: Ingredient): void;
  dropIngredient(n: number): void;
  plan(name: string): void;
  /** Cuts the choice into a planned plate, or into a new one. */
  cut(plate: string | null, name: string): void;
  stopWork(): void;
  removePlate(id: string): void;
  /** Duplicates, merges, brings in or matches plates. */
  actOnPlates(label: string, act: PlateAction): void;
  /** Splits what the choice takes off the plate in work. */
  split(plate: string, name: string): void;
  /** Fills by machine, takes a proposal, throws a fill away. */
  fillBy(label: string, act: FillAction): void;
  /** Puts more canvas around the picture. */
  extendBorder(border: BorderOrder): Promise<void>;
  /** Fills by hand. */
  fillEdit(edit: FillEdit): void;
  importPlates(file: File, onProgress: (share: number) => void): Promise<void>;
  step(action: 'undo' | 'redo'): void;
  importDepth(
    file: File,
    near: 'white' | 'black',
    smooth: boolean,
    plate: string | null,
    onProgress: (share: number) => void,
  ): Promise<void>;
  refresh(): Promise<void>;
  render(recipe: Recipe): Promise<void>;
  actOnRender(id: string, action: 'stop' | 'retry' | 'remove'): Promise<void>;
}

export type RoomStore = ReturnType<typeof createRoom>;

/** A document with the revisions of another: what the server has stored meanwhile, under changes that are still on their way. */
function withRevisions(held: ShotDocument, next: ShotDocument): ShotDocument {
  const plates = held.plates.map((p) => {
    const fresh = next.plates.find((n) => n.id === p.id);
    return fresh
      ? {
          ...p,
          matte: fresh.matte,
          fill: fresh.fill,
          overpaint: fresh.overpaint,
          depth: { ...p.depth, revision: fresh.depth.revision },
        }
      : p;
  });
  return {
    ...held,
    plates,
    fill: next.fill,
    overpaint: next.overpaint,
    depth: { ...held.depth, revision: next.depth.revision, behind: next.depth.behind },
  };
}

/** The one that is held where the other says the same, so that nothing is drawn anew for it. */
function kept<T>(held: T, next: T): T {
  return equal(held, next) ? held : next;
}

/** The state of one room and everything that can be done in it. Data walks one way: actions change it, components show it. */
export function createRoom(shot: ShotState, renders: RenderSummary[]) {
  let notices = 0;
  let strokes = 0;
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
    /** Long operations that are on their way or wait, and the asking how far the server is with them. */
    let long = 0;
    let following: ReturnType<typeof setInterval> | undefined;
    const ended = (operation: Operation, stored: boolean): void => {
      const { hand } = operation;
      if (hand !== undefined)
        set((s) => ({
          hands: stored
            ? s.hands.map((h) => (h.n === hand ? { ...h, stored } : h))
            : s.hands.filter((h) => h.n !== hand),
        }));
      if (operation.long) {
        set({ working: --long > 0 ? 0 : undefined });
        if (long === 0) clearInterval(following);
      }
      operation.ended?.();
    };
    const queue = new OperationQueue(shot.head, {
      stored: (next, idle, operation) => {
        // After an undo among painted strokes the page's copy cannot be trusted: it is fetched instead.
        if (operation.done && !stepped) {
          const { plate } = operation.done;
          set({
            ownRevision:
              (plate === 'behind'
                ? next.document.depth.behind
                : plate === null
                  ? next.document.depth.revision
                  : next.document.plates.find((p) => p.id === plate)?.depth.revision) ?? '',
          });
        }
        if (operation.cuts) {
          const before = new Set(get().shot.document.plates.map((p) => p.id));
          const { cuts } = operation;
          // What was chosen meanwhile is another choice, and stays.
          set((s) => ({
            ...(s.choice === cuts.choice ? { choice: { ingredients: [], edge: PLAIN_EDGE }, editing: undefined } : {}),
            active: cuts.plate ?? next.document.plates.find((p) => !before.has(p.id))?.id ?? s.active,
          }));
        }
        if (operation.fills !== undefined) {
          const { proposals } = next as ShotState & { proposals?: string[] };
          set((s) => ({ proposals: proposals ? { plate: operation.fills!, revisions: proposals } : s.proposals }));
        }
        ended(operation, true);
        if (operation.picks) {
          const before = new Set(get().shot.document.plates.map((p) => p.id));
          const found = next.document.plates.find((p) => !before.has(p.id));
          if (found)
            queueMicrotask(() => {
              set({ active: found.id });
            });
        }
        if (idle) stepped = false;
        take(next, idle);
      },
      storing: (storing) => {
        set({ storing });
      },
      stopped: (told, operation) => {
        ended(operation, false);
        get().notify('info', told.message);
      },
      refused: (error, _movedOn, dropped) => {
        for (const one of dropped) ended(one, false);
        get().notify('error', error.message);
        set((s) => ({ depthTicket: s.depthTicket + 1, document: s.shot.document }));
        void get().refresh();
      },
    });
    /** Starts a cut of the choice and follows how far the server is. */
    const begin = (label: string, plate: string | null, act: PlateAction): void => {
      followWork();
      queue.push({
        label,
        long: true,
        cuts: { plate, choice: get().choice },
        send: (head) => api.plates(shot.id, head, act),
      });
    };
    /** Counts one more long operation, and asks how far the server is until all have ended. */
    const followWork = (): void => {
      if (long++ > 0) return;
      set({ working: 0 });
      following = setInterval(() => {
        void api.work(shot.id).then(
          ({ work }) => {
            if (work && long > 0) set({ working: work.share });
          },
          () => undefined,
        );
      }, 500);
    };
    let stepped = false;
    let tried: DocumentPatch = {};
    return {
      ...beginning(shot, renders),
      set: (part) => {
        set(part);
      },
      notify: (kind, text) => {
        set({ notice: { id: ++notices, kind, text } });
      },
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
        const { active: plate, stage, paintBehind, document } = get();
        const behind = stage === 'depth' && plate === null && paintBehind && document.depth.behind !== null;
        queue.push({
          label: editLabel(edit),
          done: { plate: behind ? 'behind' : plate },
          send: (head) => api.edit(shot.id, head, plate, edit, behind),
        });
      },
      choose: (ingredient, instead = false) => {
        set((s) => {
          const { ingredients } = s.choice;
          const last = ingredients[ingredients.length - 1];
          const kept = instead && last?.kind === ingredient.kind ? ingredients.slice(0, -1) : ingredients;
          return {
            choice: { ...s.choice, ingredients: [...kept, ingredient] },
            editing: instead ? s.editing : undefined,
          };
        });
      },
      changeIngredient: (n, ingredient) => {
        set((s) => ({
          choice: { ...s.choice, ingredients: s.choice.ingredients.map((one, k) => (k === n ? ingredient : one)) },
        }));
      },
      dropIngredient: (n) => {
        set((s) => {
          const ingredients = s.choice.ingredients.filter((_, k) => k !== n);
          return {
            editing: undefined,
            choice: ingredients.length > 0 ? { ...s.choice, ingredients } : { ingredients, edge: PLAIN_EDGE },
          };
        });
      },
      plan: (name) => {
        queue.push({ label: `Plan ${name}`, send: (head) => api.plates(shot.id, head, { action: 'plan', name }) });
      },
      cut: (plate, name) => {
        const { choice, spare } = get();
        begin(`Cut ${name}`, plate, { action: 'cut', plate, name, choice, spare });
      },
      split: (plate, name) => {
        begin(`Split ${name} off`, null, { action: 'split', plate, name, choice: get().choice });
      },
      stopWork: () => {
        void api.stopWork(shot.id).catch(() => undefined);
      },
      actOnPlates: (label, act) => {
        queue.push({ label, picks: true, send: (head) => api.plates(shot.id, head, act) });
      },
      fillBy: (label, act) => {
        if (act.action === 'fill') followWork();
        queue.push({
          label,
          long: act.action === 'fill',
          fills: act.plate,
          send: (head) => api.fill(shot.id, head, act),
        });
      },
      extendBorder: (border) =>
        new Promise((done) => {
          followWork();
          queue.push({
            label: 'Extend the canvas',
            long: true,
            ended: done,
            send: (head) => api.extendBorder(shot.id, head, border),
          });
        }),
      fillEdit: (edit) => {
        const plate = get().active;
        const n = ++strokes;
        set((s) => ({ hands: [...s.hands, { n, plate, edit, stored: false }], drawing: undefined }));
        queue.push({
          label: 'Fill by hand',
          fills: plate,
          hand: n,
          send: (head) => api.fill(shot.id, head, { action: 'edit', plate, edit }),
        });
      },
      importPlates: async (file, onProgress) => {
        const next = await api.importPlates(shot.id, get().shot.head, file, onProgress);
        const before = new Set(get().shot.document.plates.map((p) => p.id));
        queue.moveTo(next.head);
        take(next, true);
        set((s) => ({ active: next.document.plates.find((p) => !before.has(p.id))?.id ?? s.active }));
      },
      removePlate: (id) => {
        queue.push({
          label: 'Remove a plate',
          send: (head) => api.plates(shot.id, head, { action: 'remove', plate: id }),
        });
      },
      step: (action) => {
        tried = {};
        const { shot: now } = get();
        if (!queue.busy && (action === 'undo' ? now.undo : now.redo) === null) return;
        stepped = true;
        queue.push({ label: action, send: (head) => api.history(shot.id, head, action) });
      },
      importDepth: async (file, near, smooth, plate, onProgress) => {
        const next = await api.importDepth(shot.id, get().shot.head, file, near, smooth, plate, onProgress);
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
          if (get().notice === undefined)
            get().notify('info', 'This shot was changed in another window. You see its newest state.');
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
