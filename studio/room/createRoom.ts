import { createStore } from 'zustand/vanilla';
import { editLabel } from '@/core/depth/edits';
import { atMoment } from '@/core/shot/atMoment';
import { filmActs } from '../footage/acts';
import { carriedBy } from '../footage/carriedBy';
import { patchDocument, type DocumentPatch, type ShotDocument } from '@/core/shot/document';
import { api, Refusal, type RenderSummary, type ShotState } from '../api';
import { STAGES, type RoomState } from '../stages';
import { beginning } from './beginning';
import type { RoomCore, SliceRoom } from './core';
import { kept } from './kept';
import { OperationQueue, type Operation } from './operations';

export type RoomStore = ReturnType<typeof createRoom>;

/**
 * A document with the revisions of another: what the server has stored meanwhile, under changes that are still on
 * their way.
 */
function withRevisions(held: ShotDocument, next: ShotDocument): ShotDocument {
  const plates = held.plates.map((p) => {
    const fresh = next.plates.find((n) => n.id === p.id);
    if (!fresh) return p;
    const { matte, fill, overpaint, strokes, depth } = fresh;
    return { ...p, matte, fill, overpaint, strokes, depth: { ...p.depth, revision: depth.revision } };
  });
  const { revision, behind } = next.depth;
  return {
    ...held,
    footage: held.footage && next.footage && { ...held.footage, keys: next.footage.keys },
    plates,
    fill: next.fill,
    overpaint: next.overpaint,
    strokes: next.strokes,
    marks: next.marks,
    keptDepths: next.keptDepths,
    depth: { ...held.depth, revision, behind },
  };
}

/** Two patches as one: changes of different plates, or of different values of one plate, lie side by side. */
function joined(first: DocumentPatch, second: DocumentPatch): DocumentPatch {
  if (!first.plates || !second.plates) return { ...first, ...second };
  const changes = new Map(first.plates.map((change) => [change.id, change]));
  for (const change of second.plates) changes.set(change.id, { ...changes.get(change.id), ...change });
  return { ...first, ...second, plates: [...changes.values()] };
}

/**
 * What belongs to the stages and what every stage shares, in one. @throws Error where a stage calls something of its
 * own as the room does:
 * the one would silently take the other's place
 */
function sideBySide<Slices extends object>(slices: Slices, room: RoomCore): Slices & RoomCore {
  const twice = Object.keys(room).find((name) => name in slices);
  if (twice !== undefined) throw new Error(`'${twice}' is a name of the room and of one of its stages.`);
  return { ...slices, ...room };
}

const FOLLOW_MS = 200;
/** A hand that has not stepped for so long rests, ms. */
const REST_MS = 400;

/**
 * The state of one room and everything that can be done in it. Data walks one way: actions change it, components show
 * it.
 * @param flat the shot has one depth everywhere
 */
export function createRoom(shot: ShotState, renders: RenderSummary[], flat = false) {
  let counted = 0;
  return createStore<RoomState>()((set, get) => {
    /** What the server has stored, as it stands at the frame that is worked at. */
    const here = ({ document, footage }: RoomState, stored: ShotDocument): ShotDocument =>
      atMoment(stored, document.source.moment ?? 0, carriedBy(footage, stored));
    const take = (next: ShotState, whole: boolean): void => {
      set((s) => {
        const stored = here(s, next.document);
        return {
          shot: next,
          untouched: s.untouched && next.head === shot.head,
          // While more changes are under way the page is ahead of the server; only the pixels' revisions are taken
          // over.
          document: kept(s.document, whole ? stored : withRevisions(s.document, stored)),
          active: s.active !== null && next.document.plates.some((p) => p.id === s.active) ? s.active : null,
          storedAt: next.changedAt,
        };
      });
    };
    const queue = new OperationQueue(shot.head, {
      stored: (next, operation, { idle, alone }) => {
        operation.stored?.(next, alone && !stepped);
        operation.ended?.(true);
        if (idle) stepped = false;
        take(next, idle && Object.keys(tried).length === 0);
      },
      storing: (storing) => {
        set({ storing: resting && storing === 'stored' ? 'storing' : storing });
      },
      stopped: (refusal, operation) => {
        operation.ended?.(false);
        get().notify('info', refusal.message);
      },
      refused: (error, operation) => {
        operation.ended?.(false);
        const says = JSON.stringify(operation.says, null, 2);
        const entry = { id: ++counted, label: operation.label, why: error.message, says };
        set((s) => ({
          refused: [...s.refused, entry],
          depthTicket: s.depthTicket + 1,
          document: here(s, s.shot.document),
        }));
        get().notify('error', `${operation.label} was not stored. ${error.message}`);
        void get().refresh();
      },
    });
    /** What was tried waits for the hand to rest. */
    let resting: { readonly label: string; readonly timer: ReturnType<typeof setTimeout> } | undefined;
    const settle = (): void => {
      if (resting) get().keep(resting.label);
    };
    const push = (operation: Operation): void => {
      // Changes are stored in the order in which they were made.
      settle();
      // A change belongs to the frame at which it was made, wherever it is looked at when its turn comes.
      const { moment } = get().document.source;
      queue.push(moment === undefined ? operation : { ...operation, send: (at) => operation.send({ ...at, moment }) });
    };
    /** Long work that is on its way or waits, and the asking how far the server is with it. */
    let long = 0;
    let following: ReturnType<typeof setInterval> | undefined;
    const followWork = (): (() => void) => {
      if (long++ === 0) {
        set({ working: 0 });
        following = setInterval(() => {
          api.work(shot.id).then(
            ({ work }) => {
              if (work && long > 0) set({ working: work.share, workLook: work.look });
            },
            () => undefined,
          );
        }, FOLLOW_MS);
      }
      return () => {
        set({ working: --long > 0 ? 0 : undefined, workLook: null });
        if (long === 0) clearInterval(following);
      };
    };
    const pushLong = (operation: Operation): void => {
      const followed = followWork();
      push({
        ...operation,
        ended: (stored) => {
          followed();
          operation.ended?.(stored);
        },
      });
    };
    /** After an undo among painted strokes the page's own copy cannot be trusted: it is fetched instead. */
    let stepped = false;
    let tried: DocumentPatch = {};
    const sliceRoom = { shot, get, set, push, pushLong } as unknown as SliceRoom<object>;
    const slices = Object.assign({}, ...STAGES.map((stage) => stage.slice(sliceRoom as never))) as RoomState;
    return sideBySide(slices, {
      ...beginning(shot, renders, flat),
      set: (part) => {
        set(part);
      },
      notify: (kind, text) => {
        set({ notice: { id: ++counted, kind, text } });
      },
      try: (patch) => {
        // What is tried belongs to the frame that is seen, also where the document has not come to rest there yet.
        if (!get().rolls) get().settleMoment();
        tried = joined(tried, patch);
        set((s) => ({ document: patchDocument(s.document, patch), underHand: true }));
      },
      keep: (label) => {
        clearTimeout(resting?.timer);
        resting = undefined;
        if (get().underHand) set({ underHand: false });
        if (Object.keys(tried).length === 0) return;
        const patch = tried;
        tried = {};
        push({ label, says: patch, send: (at) => api.change(shot.id, at, label, patch) });
      },
      keepSoon: (label) => {
        clearTimeout(resting?.timer);
        resting = { label, timer: setTimeout(settle, REST_MS) };
        set({ storing: 'storing' });
      },
      settle,
      change: (label, patch) => {
        settle();
        get().try(patch);
        get().keep(label);
      },
      editDepth: (edit, { plate, behind }) => {
        const n = ++counted;
        set((s) => ({ unstored: [...s.unstored, n] }));
        push({
          label: editLabel(edit),
          says: { plate, behind, edit },
          send: (at) => api.edit(shot.id, at, edit, { plate, behind }),
          stored: ({ document: stored }, alone) => {
            const document = here(get(), stored);
            const owner = plate === null ? document : document.plates.find((p) => p.id === plate);
            const revision = behind ? document.depth.behind : owner?.depth.revision;
            if (alone) set({ ownRevision: revision ?? '' });
          },
          ended: () => {
            set((s) => ({ unstored: s.unstored.filter((k) => k !== n) }));
          },
        });
        return { n, edit, target: behind ? 'behind' : plate };
      },
      plan: (name) => {
        const act = { action: 'plan', name } as const;
        push({ label: `Plan ${name}`, says: act, send: (at) => api.plates(shot.id, at, act) });
      },
      removePlate: (plate) => {
        const act = { action: 'remove', plate } as const;
        const name = get().document.plates.find((p) => p.id === plate)?.name ?? 'a plate';
        push({ label: `Remove ${name}`, says: act, send: (at) => api.plates(shot.id, at, act) });
      },
      actOnPlates: (label, act) => {
        const before = new Set(get().shot.document.plates.map((p) => p.id));
        push({
          label,
          says: act,
          send: (at) => api.plates(shot.id, at, act),
          stored: ({ document }) => {
            // A plate that has appeared becomes the one in work.
            const found = document.plates.find((p) => !before.has(p.id));
            if (found) set({ active: found.id });
          },
        });
      },
      extendBorder: (border) =>
        new Promise((done) => {
          pushLong({
            label: 'Extend the canvas',
            says: border,
            send: (at) => api.extendBorder(shot.id, at, border),
            ended: () => {
              done();
            },
          });
        }),
      goFor: (need) => {
        const stage = STAGES.find(({ helps }) => helps && need in helps);
        const way = stage?.helps?.[need];
        if (stage) set((s) => ({ stage: stage.key, ...(way ? { opened: { ...s.opened, [stage.key]: way } } : {}) }));
      },
      ...filmActs({ shot, get, set, settle, push, followWork }),
      step: (action) => {
        settle();
        tried = {};
        set({ underHand: false });
        const { shot: now } = get();
        if (!queue.busy && (action === 'undo' ? now.undo : now.redo) === null) return;
        stepped = true;
        push({
          label: action === 'undo' ? 'Undo' : 'Redo',
          says: action,
          onlyHere: true,
          send: (at) => api.history(shot.id, at, action),
        });
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
      stopWork: () => {
        api.stopWork(shot.id).catch(() => undefined);
      },
      dismiss: (id) => {
        set((s) => ({ refused: s.refused.filter((entry) => entry.id !== id) }));
      },
      render: async (recipe) => {
        try {
          await api.render(shot.id, recipe, get().document.source.moment ?? 0);
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
    });
  });
}
