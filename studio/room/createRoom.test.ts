import { newDocument, type Plate, type ShotDocument } from '@/core/shot/document';
import { api, Refusal, type ShotState } from '../api';
import { createRoom } from './createRoom';

// The room's state against an api that answers when it is told to.

const SHOT = '0f8fad5b-d9cb-469f-a165-70867728950e';
const MEDIA = '7c9e6679-7425-40de-944b-e07fc1f90ae7';
const PLATE = '3f333df6-90a4-4fda-8dd3-9485d27cee36';
const base = newDocument(
  { mediaId: MEDIA, fileName: 'a.png', width: 400, height: 300, bits: 8, hasAlpha: false } as ShotDocument['source'],
  MEDIA,
);
const plate: Plate = {
  id: PLATE,
  name: 'Tree',
  matte: MEDIA,
  choice: null,
  piece: null,
  fill: null,
  strokes: [],
  overpaint: null,
  tearPx: null,
  tearSoftPx: null,
  keys: [],
  group: null,
  depth: { revision: MEDIA, near: 0.9, far: 0.7 },
  hidden: false,
  locked: false,
};
const state = (head: number, document: ShotDocument = base): ShotState =>
  ({ id: SHOT, name: 'Tub', head, document, undo: null, redo: null, changedAt: '2026-01-01' }) as ShotState;
const choice = {
  kind: 'outline' as const,
  way: 'add' as const,
  points: [
    { x: 1, y: 1 },
    { x: 9, y: 1 },
    { x: 9, y: 9 },
  ],
};

/** What was asked of one of the api's calls, to be answered by hand. */
function held<K extends keyof typeof api>(name: K) {
  const asked: { words: unknown[]; yes(value: unknown): void; no(error: Refusal): void }[] = [];
  jest.spyOn(api, name).mockImplementation(
    ((...words: unknown[]) =>
      new Promise((yes, no) => {
        asked.push({ words, yes, no });
      })) as never,
  );
  return asked;
}
const settle = async (): Promise<void> => {
  for (let n = 0; n < 12; n++) await Promise.resolve();
};

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
});

describe('cutting', () => {
  test('empties the choice that was cut, and the new plate is in work', async () => {
    const plates = held('plates');
    const room = createRoom(state(1), []);
    room.getState().choose(choice);
    room.getState().cut(null, 'Tree');
    expect(room.getState().working).toBe(0);
    plates[0].yes(state(2, { ...base, plates: [plate] }));
    await settle();
    expect(room.getState()).toMatchObject({
      choice: { ingredients: [] },
      active: PLATE,
      working: undefined,
      shot: { head: 2 },
    });
  });

  test('leaves alone what was chosen meanwhile', async () => {
    const plates = held('plates');
    const room = createRoom(state(1), []);
    room.getState().choose(choice);
    room.getState().cut(null, 'Tree');
    room.getState().choose({ ...choice, points: choice.points.map((p) => ({ x: p.x + 50, y: p.y })) });
    plates[0].yes(state(2, { ...base, plates: [plate] }));
    await settle();
    expect(room.getState().choice.ingredients).toHaveLength(2);
  });

  test('tells how far the server is, and no more once it has ended', async () => {
    const plates = held('plates');
    const look = { plate: PLATE, revision: SHOT };
    const work = jest.spyOn(api, 'work').mockResolvedValue({ work: { name: 'Tree', share: 0.4, look } });
    const room = createRoom(state(1), []);
    room.getState().choose(choice);
    room.getState().cut(null, 'Tree');
    await jest.advanceTimersByTimeAsync(600);
    expect(room.getState()).toMatchObject({ working: 0.4, workLook: look });
    plates[0].yes(state(2, { ...base, plates: [plate] }));
    await jest.advanceTimersByTimeAsync(2000);
    expect(room.getState()).toMatchObject({ working: undefined, workLook: null });
    expect(work).toHaveBeenCalledTimes(3);
  });

  test('stopped, it keeps the choice and says so; a name that waited behind it is stored', async () => {
    const plates = held('plates');
    const change = held('change');
    const room = createRoom(state(1), []);
    room.getState().choose(choice);
    room.getState().cut(null, 'Tree');
    room.getState().change('Budget', { budget: { nearPx: -8, farPx: 2 } });
    plates[0].no(new Refusal(409, 'stopped', 'Cutting Tree was stopped, so nothing was changed.'));
    await settle();
    expect(room.getState()).toMatchObject({
      working: undefined,
      notice: { kind: 'info', text: 'Cutting Tree was stopped, so nothing was changed.' },
      document: { budget: { nearPx: -8 } },
    });
    expect(room.getState().choice.ingredients).toHaveLength(1);
    expect(change[0].words.slice(1, 3)).toEqual([{ expectedHead: 1, changeId: expect.any(String) }, 'Budget']);
    change[0].yes(state(2, { ...base, budget: { nearPx: -8, farPx: 2 } }));
    await settle();
    expect(room.getState()).toMatchObject({ shot: { head: 2 }, storing: 'stored' });
  });

  test('two fills in a row: while the second runs its share is told too', async () => {
    const fill = held('fill');
    const room = createRoom(state(1, { ...base, plates: [plate] }), []);
    jest.spyOn(api, 'work').mockResolvedValue({ work: { name: 'Tree', share: 0.7, look: null } });
    const act = {
      action: 'fill',
      plate: null,
      method: 'smooth',
      seeds: [1],
      area: { kind: 'hidden' },
      sample: { kind: 'everywhere' },
    } as const;
    room.getState().fillBy('Fill', { ...act, seeds: [1] });
    room.getState().fillBy('Fill', { ...act, seeds: [2] });
    fill[0].yes(state(2, { ...base, plates: [plate], fill: MEDIA }));
    await jest.advanceTimersByTimeAsync(600);
    expect(room.getState().working).toBe(0.7);
    fill[1].yes({ ...state(3, { ...base, plates: [plate], fill: SHOT }), proposals: [SHOT, MEDIA] });
    await settle();
    expect(room.getState()).toMatchObject({
      working: undefined,
      document: { fill: SHOT },
      proposals: { plate: null, method: 'smooth', revisions: [SHOT, MEDIA] },
    });
  });
});

describe('a change', () => {
  test('shows at once, and goes back when it cannot be made; it is kept by name, and what waited behind it is stored', async () => {
    const change = held('change');
    const extend = held('extendBorder');
    held('shot');
    const room = createRoom(state(1), []);
    room.getState().change('Budget', { budget: { nearPx: -8, farPx: 2 } });
    let ended = false;
    void room
      .getState()
      .extendBorder({ left: 5, right: 5, top: 0, bottom: 0, method: 'mirror', seed: 1 })
      .then(() => {
        ended = true;
      });
    expect(room.getState().document.budget.nearPx).toBe(-8);
    change[0].no(new Refusal(422, 'plate-locked', 'Tree is locked, so nothing was changed.'));
    await settle();
    expect([room.getState().document.budget, extend.length, ended]).toEqual([base.budget, 1, false]);
    expect(room.getState()).toMatchObject({
      notice: { kind: 'error', text: 'Budget was not stored. Tree is locked, so nothing was changed.' },
      refused: [{ label: 'Budget', why: 'Tree is locked, so nothing was changed.' }],
    });
    expect(JSON.parse(room.getState().refused[0].says)).toEqual({ budget: { nearPx: -8, farPx: 2 } });
    extend[0].yes(state(2, { ...base, tearPx: 3 }));
    await settle();
    expect(room.getState()).toMatchObject({ shot: { head: 2 }, document: { tearPx: 3 } });
    expect(ended).toBe(true);
    room.getState().dismiss(room.getState().refused[0].id);
    expect(room.getState().refused).toEqual([]);
  });

  test('made again on a head that another window left, it is stored, and the page fetches what came with it', async () => {
    const edit = held('edit');
    const room = createRoom(state(1), []);
    const stroke = { kind: 'polygon', points: choice.points, depth: 0.5 } as const;
    room.getState().editDepth({ ...stroke, points: [...stroke.points] }, { plate: null, behind: false });
    edit[0].no(new Refusal(409, 'moved-on', 'changed elsewhere', 4));
    await settle();
    expect(edit[1].words[1]).toEqual({ ...(edit[0].words[1] as object), expectedHead: 4 });
    edit[1].yes(state(5, { ...base, depth: { ...base.depth, revision: SHOT } }));
    await settle();
    // Not its own revision alone: another window's strokes are in it.
    expect(room.getState()).toMatchObject({
      shot: { head: 5 },
      document: { depth: { revision: SHOT } },
      ownRevision: MEDIA,
      unstored: [],
      refused: [],
    });
  });

  test('two plates that are changed before they are kept are both stored', async () => {
    const change = held('change');
    const other = { ...plate, id: SHOT };
    const room = createRoom(state(1, { ...base, plates: [plate, other] }), []);
    room.getState().try({ plates: [{ id: PLATE, near: 0.8 }] });
    room.getState().try({ plates: [{ id: SHOT, near: 0.75 }] });
    room.getState().try({ plates: [{ id: PLATE, far: 0.6 }] });
    room.getState().keep('Move');
    await settle();
    expect(change[0].words[3]).toEqual({
      plates: [
        { id: PLATE, near: 0.8, far: 0.6 },
        { id: SHOT, near: 0.75 },
      ],
    });
  });

  test('while more are on their way the page stays ahead of the server, but takes the stored pixels over', async () => {
    const change = held('change');
    const room = createRoom(state(1, { ...base, plates: [plate] }), []);
    room.getState().change('One', { budget: { nearPx: -8, farPx: 2 } });
    room.getState().change('Two', { budget: { nearPx: -9, farPx: 2 } });
    change[0].yes(
      state(2, { ...base, budget: { nearPx: -8, farPx: 2 }, fill: SHOT, plates: [{ ...plate, overpaint: SHOT }] }),
    );
    await settle();
    expect(room.getState().document).toMatchObject({
      budget: { nearPx: -9 },
      fill: SHOT,
      plates: [{ overpaint: SHOT }],
    });
    expect(change[1].words[1]).toMatchObject({ expectedHead: 2 });
  });

  test('while the server is away it waits and says so, and nothing is lost', async () => {
    const change = held('change');
    const room = createRoom(state(1), []);
    room.getState().change('Budget', { budget: { nearPx: -8, farPx: 2 } });
    change[0].no(new Refusal(0, 'away', 'The server does not answer just now.'));
    await settle();
    expect(room.getState()).toMatchObject({
      storing: 'waiting',
      document: { budget: { nearPx: -8 } },
      notice: undefined,
    });
    await jest.advanceTimersByTimeAsync(1600);
    change[1].yes(state(2, { ...base, budget: { nearPx: -8, farPx: 2 } }));
    await settle();
    expect(room.getState()).toMatchObject({ storing: 'stored', shot: { head: 2 } });
  });

  test('a plate that is gone is in work no longer', async () => {
    const plates = held('plates');
    const room = createRoom(state(1, { ...base, plates: [plate] }), []);
    room.getState().set({ active: PLATE });
    room.getState().removePlate(PLATE);
    plates[0].yes(state(2));
    await settle();
    expect(room.getState().active).toBeNull();
  });

  test('undo is not asked for where there is nothing to undo', () => {
    const history = held('history');
    const room = createRoom(state(1), []);
    room.getState().step('undo');
    expect(history).toHaveLength(0);
  });
});

describe('the choice in work', () => {
  test('an ingredient is added, put in the place of the last of its kind, changed and dropped', () => {
    const room = createRoom(state(1), []);
    const s = room.getState();
    const kinds = (): string[] => room.getState().choice.ingredients.map((i) => `${i.way} ${i.kind}`);
    s.choose(choice);
    s.choose({ kind: 'slice', way: 'take', near: 1, far: 0.5 });
    s.choose({ kind: 'slice', way: 'take', near: 1, far: 0.4 }, true);
    expect([kinds(), room.getState().choice.ingredients[1]]).toEqual([
      ['add outline', 'take slice'],
      { kind: 'slice', way: 'take', near: 1, far: 0.4 },
    ]);
    s.changeIngredient(0, { ...choice, way: 'intersect' });
    expect(kinds()).toEqual(['intersect outline', 'take slice']);
    s.dropIngredient(1);
    s.dropIngredient(0);
    expect(kinds()).toEqual([]);
  });
});

describe('a key that is held', () => {
  const budget = (nearPx: number) => ({ nearPx, farPx: 0 });
  const press = (room: ReturnType<typeof createRoom>, nearPx: number): void => {
    room.getState().try({ budget: budget(nearPx) });
    room.getState().keepSoon('Screen plane');
  };

  test('is one change, stored once the hand rests, and until then the page says that it is not stored', async () => {
    const change = held('change');
    const room = createRoom(state(1), []);
    for (let n = 1; n <= 30; n++) {
      press(room, -n);
      jest.advanceTimersByTime(33);
    }
    expect(change).toHaveLength(0);
    expect(room.getState()).toMatchObject({ storing: 'storing', document: { budget: budget(-30) } });
    jest.advanceTimersByTime(500);
    expect(change.map(({ words }) => words.slice(2))).toEqual([['Screen plane', { budget: budget(-30) }]]);
    change[0].yes(state(2, { ...base, budget: budget(-30) }));
    await settle();
    expect(room.getState()).toMatchObject({ storing: 'stored', shot: { head: 2 } });
    jest.advanceTimersByTime(5000);
    expect(change).toHaveLength(1);
  });

  test('is stored before what is done next, and before it is undone', async () => {
    const change = held('change');
    const history = held('history');
    const room = createRoom({ ...state(1), undo: 'Before' }, []);
    press(room, -5);
    room.getState().change('Tear limit', { tearPx: 3 });
    expect(change.map(({ words }) => words[2])).toEqual(['Screen plane']);
    change[0].yes(state(2, { ...base, budget: budget(-5) }));
    await settle();
    expect(change.map(({ words }) => words.slice(2))).toEqual([
      ['Screen plane', { budget: budget(-5) }],
      ['Tear limit', { tearPx: 3 }],
    ]);
    change[1].yes(state(3, { ...base, budget: budget(-5), tearPx: 3 }));
    await settle();
    press(room, -7);
    room.getState().step('undo');
    expect(change.map(({ words }) => words[3])).toHaveLength(3);
    expect(change[2].words[3]).toEqual({ budget: budget(-7) });
    expect(history).toHaveLength(0);
    change[2].yes(state(4, { ...base, budget: budget(-7), tearPx: 3 }));
    await settle();
    expect(history.map(({ words }) => words[2])).toEqual(['undo']);
  });

  test('waits no longer where another handle is taken', () => {
    const change = held('change');
    const room = createRoom(state(1), []);
    press(room, -5);
    room.getState().settle();
    expect(change).toHaveLength(1);
    room.getState().settle();
    jest.advanceTimersByTime(5000);
    expect(change).toHaveLength(1);
  });
});
