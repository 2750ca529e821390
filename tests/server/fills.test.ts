import { holePush } from '@/core/shot/plates';
import type { FillAction } from '@/server/shots/fillActions';
import { loadRevision } from '@/server/rasters/revisions';
import { editDepth } from '@/server/shots/depth';
import { moveInHistory, shotState, type ShotState } from '@/server/shots/history';
import { loadChoice } from '@/server/shots/choices';
import { database } from '@/server/db/orm';
import { readStoredPicture } from '@/server/rasters/pictures';
import { TILE } from '@/server/rasters/tiles';
import { BEGIN_RECIPES } from '@/core/recipes';
import type { MovePart } from '@/core/shot/document';
import { Render } from '@/server/db/entities';
import { claim } from '@/server/renders/claim';
import { sender } from '@/server/renders/queue';
import { listRenders, startRender } from '@/server/renders/renders';
import { runRender } from '@/server/renders/run';
import { coverage, extendBorder } from '@/server/shots/border';
import { workOf, stopWork } from '@/server/shots/longWork';
import { actOnFill } from '@/server/shots/fills';
import { storedMatte } from '@/server/shots/carriedRasters';
import { actOnPlates } from '@/server/shots/plates';
import { importPlates } from '@/server/shots/platesFiles';
import { changeDocument } from '@/server/shots/shots';
import { boxChoice as box, headOf, laidOut, asBefore, pixel, scene, sourcePicture } from '../support/scene';

const width = 320;
const height = 200;
const stage = scene('Fills', async () => {
  await (await sender()).stop({ graceful: false });
});

/** A striped wall with a red box of 80 x 60 px before it, cut as a plate; the budget uncovers 10 px at each side. */
async function begin(): Promise<ShotState> {
  const inside = (x: number, y: number): boolean => x >= 120 && x < 200 && y >= 70 && y < 130;
  const id = await stage.shot(
    'wall',
    [width, height],
    (x, y) => (inside(x, y) ? [210, 30, 30] : stripe(x)),
    (x, y) => (inside(x, y) ? 60000 : 3000),
  );
  const s = await actOnPlates(
    { id, expectedHead: await headOf(id) },
    {
      action: 'cut',
      plate: null,
      name: 'Box',
      choice: box(120, 70, 200, 130),
      spare: true,
    },
  );
  return changeDocument({ id, expectedHead: s.head }, 'Budget', { budget: { nearPx: -20, farPx: 3 } });
}
const stripe = (x: number): number[] => (Math.floor(x / 8) % 2 ? [180, 180, 150] : [70, 80, 120]);
const fill = (more: Partial<Extract<FillAction, { action: 'fill' }>> = {}): FillAction => ({
  action: 'fill',
  plate: null,
  method: 'texture',
  seeds: [1],
  area: { kind: 'reveal', views: 2, marginPx: 4 },
  sample: { kind: 'everywhere' },
  ...more,
});
const filledPixels = async (revision: string | null): Promise<number> => {
  const { data } = await readStoredPicture(await database(), revision!, 8);
  let n = 0;
  for (let i = 3; i < data.length; i += 4) if (data[i] > 0) n++;
  return n;
};
const background = async (s: ShotState): Promise<{ at(x: number, y: number): number[] }> => {
  const { picture } = await laidOut(s);
  return { at: (x, y) => pixel(picture, x, y) };
};

describe('filling behind plates', () => {
  test('what is uncovered gets the wall’s stripes where they stood, and only there; thrown away and undone', async () => {
    const s = await begin();
    const done = await actOnFill({ id: s.id, expectedHead: s.head }, fill());
    expect(done.undo).toBe('Fill the back plate');
    const n = await filledPixels(done.document.fill);
    // Two strips of some 10 px beside the box's edges with their margins, not the whole hole.
    expect(n).toBeGreaterThan(2 * 60 * 10);
    expect(n).toBeLessThan(86 * 66 * 0.75);
    const behind = await background(done);
    // The stripes run down the wall: every place has its own stripe's colours, however they were blended in, and not
    // the other's.
    const apart = ([r, g, b]: number[], [r2, g2, b2]: number[]): number => Math.hypot(r - r2, g - g2, b - b2);
    for (let y = 75; y < 125; y += 5)
      for (const x of [121, 124, 132, 195])
        expect(apart(behind.at(x, y), stripe(x))).toBeLessThan(apart(stripe(0), stripe(8)) / 4);
    const cleared = await actOnFill({ id: s.id, expectedHead: done.head }, { action: 'clear', plate: null });
    expect(cleared.document.fill).toBeNull();
    expect((await moveInHistory({ id: s.id, expectedHead: cleared.head }, 'undo')).document.fill).toBe(
      done.document.fill,
    );
  });

  test('as it goes on: the stripes stand again behind the box, of the back plate and of a plate that ends near by', async () => {
    const s = await begin();
    const done = await actOnFill(
      { id: s.id, expectedHead: s.head },
      fill({ method: 'continue', area: { kind: 'hidden' } }),
    );
    const cut = await actOnPlates(
      { id: s.id, expectedHead: done.head },
      { action: 'cut', plate: null, name: 'Poster', choice: box(24, 8, 296, 192), spare: true },
    );
    const poster = cut.document.plates.find((p) => p.name === 'Poster')!;
    const set = await changeDocument({ id: s.id, expectedHead: cut.head }, 'Order', {
      plates: [{ id: poster.id, near: 0.2, far: 0.1 }],
    });
    const filled = await actOnFill(
      { id: s.id, expectedHead: set.head },
      fill({ method: 'continue', plate: poster.id, area: { kind: 'hidden' } }),
    );
    const revision = filled.document.plates.find((p) => p.id === poster.id)!.fill;
    const apart = ([r, g, b]: number[], [r2, g2, b2]: number[]): number => Math.hypot(r - r2, g - g2, b - b2);
    const limit = apart(stripe(0), stripe(8)) / 4;
    for (const fillOf of [done.document.fill, revision]) {
      const { data } = await readStoredPicture(await database(), fillOf!, 8);
      // Beside the poster there is nothing: no black bleeds in from there.
      for (let y = 75; y < 125; y += 10)
        for (const x of [124, 132, 156, 164, 180, 196])
          expect(apart([...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 3)], stripe(x))).toBeLessThan(
            limit,
          );
    }
  });

  test('several proposals differ; one of them is taken', async () => {
    const s = await begin();
    const done = await actOnFill({ id: s.id, expectedHead: s.head }, fill({ seeds: [1, 2], area: { kind: 'hidden' } }));
    expect(done.proposals).toHaveLength(2);
    expect(done.document.fill).toBe(done.proposals![0]);
    const taken = await actOnFill(
      { id: s.id, expectedHead: done.head },
      { action: 'take', plate: null, revision: done.proposals![1] },
    );
    expect(taken.document.fill).toBe(done.proposals![1]);
    await expect(
      actOnFill(
        { id: s.id, expectedHead: taken.head },
        { action: 'take', plate: null, revision: s.document.depth.revision },
      ),
    ).rejects.toMatchObject({ status: 404 });
  });

  test('smoothly, from one side, and only where a choice says', async () => {
    const s = await begin();
    const smooth = await actOnFill(
      { id: s.id, expectedHead: s.head },
      fill({ method: 'smooth', area: { kind: 'choice', choice: box(150, 60, 180, 140) } }),
    );
    const { data } = await readStoredPicture(await database(), smooth.document.fill!, 8);
    const alpha = (x: number, y: number): number => data[(y * width + x) * 4 + 3];
    expect([alpha(160, 100), alpha(130, 100), alpha(160, 40)]).toEqual([255, 0, 0]);
    const sided = await actOnFill({ id: s.id, expectedHead: smooth.head }, fill({ sample: { kind: 'left' } }));
    // From one side as much is filled as from everywhere, only with other colours.
    const around = await actOnFill({ id: s.id, expectedHead: sided.head }, fill());
    expect(await filledPixels(sided.document.fill)).toBe(await filledPixels(around.document.fill));
    expect(around.document.fill).not.toBe(sided.document.fill);
  });

  test('by hand: a clone lands behind the box alone; erasing takes it back; what lands nowhere says so', async () => {
    const s = await begin();
    const clone = {
      kind: 'clone' as const,
      size: 30,
      hardness: 1,
      strength: 1,
      points: [{ x: 160, y: 100 }],
      sources: [{ dx: -96, dy: 0 }],
      scale: 1,
      turn: 0,
      flip: false,
      jitter: 0,
      seed: 1,
      seamless: false,
      beyond: false,
    };
    const done = await actOnFill({ id: s.id, expectedHead: s.head }, { action: 'edit', plate: null, edit: clone });
    expect((await background(done)).at(160, 100)).toEqual(stripe(160 - 96));
    const erased = await actOnFill(
      { id: s.id, expectedHead: done.head },
      {
        action: 'edit',
        plate: null,
        edit: { kind: 'erase', size: 200, hardness: 1, strength: 1, points: [{ x: 160, y: 100 }] },
      },
    );
    expect(await filledPixels(erased.document.fill)).toBe(0);
    await expect(
      actOnFill(
        { id: s.id, expectedHead: erased.head },
        { action: 'edit', plate: null, edit: { ...clone, points: [{ x: 20, y: 20 }] } },
      ),
    ).rejects.toMatchObject({ code: 'missed' });
    const beyond = await actOnFill(
      { id: s.id, expectedHead: erased.head },
      {
        action: 'edit',
        plate: null,
        edit: { ...clone, points: [{ x: 20, y: 20 }], sources: [{ dx: 8, dy: 0 }], beyond: true },
      },
    );
    expect((await background(beyond)).at(20, 20)).toEqual([180, 180, 150]);
    // It lies by itself: the fill is as empty as before, and throwing the fill away takes it along.
    expect([await filledPixels(beyond.document.fill), (await filledPixels(beyond.document.overpaint)) > 500]).toEqual([
      0,
      true,
    ]);
    const cleared = await actOnFill({ id: s.id, expectedHead: beyond.head }, { action: 'clear', plate: null });
    expect([cleared.document.fill, cleared.document.overpaint]).toEqual([null, null]);
    expect((await background(cleared)).at(20, 20)).toEqual(stripe(20));
  });

  test('a stroke stores the tiles that it touches; a stroke after an undo starts from what is seen', async () => {
    const s = await begin();
    const stroke = (x: number): FillAction => ({
      action: 'edit',
      plate: null,
      edit: {
        kind: 'clone',
        size: 12,
        hardness: 1,
        strength: 1,
        points: [{ x, y: 100 }],
        sources: [{ dx: -80, dy: 0 }],
        scale: 1,
        turn: 0,
        flip: false,
        jitter: 0,
        seed: 1,
        seamless: false,
        beyond: false,
      },
    });
    const first = await actOnFill({ id: s.id, expectedHead: s.head }, stroke(130));
    const two = await actOnFill({ id: s.id, expectedHead: first.head }, stroke(190));
    const em = await database();
    const [a, b] = [await loadRevision(em, first.document.fill!), await loadRevision(em, two.document.fill!)];
    const tiles = Math.ceil((width * 4) / TILE);
    const changed = Array.from({ length: tiles }, (_, n) => n).filter(
      (n) => !a.hashes.subarray(n * 32, n * 32 + 32).equals(b.hashes.subarray(n * 32, n * 32 + 32)),
    );
    // RGBA side by side: the second stroke's columns 184 to 196 are 736 to 784 of 1280.
    expect([tiles, changed]).toEqual([5, [2, 3]]);
    const back = await moveInHistory({ id: s.id, expectedHead: two.head }, 'undo');
    const three = await actOnFill({ id: s.id, expectedHead: back.head }, stroke(160));
    const { data } = await readStoredPicture(em, three.document.fill!, 8);
    expect([130, 160, 190].map((x) => data[(100 * width + x) * 4 + 3])).toEqual([255, 255, 0]);
  });

  test('once what hid it is gone a fill does not show, and is there again when that comes back', async () => {
    const s = await begin();
    const done = await actOnFill(
      { id: s.id, expectedHead: s.head },
      fill({ method: 'smooth', area: { kind: 'hidden' } }),
    );
    const bare = await actOnPlates(
      { id: s.id, expectedHead: done.head },
      { action: 'remove', plate: done.document.plates[0].id },
    );
    expect(bare.document.fill).toBe(done.document.fill);
    expect((await background(bare)).at(160, 100)).toEqual([210, 30, 30]);
    const back = await moveInHistory({ id: s.id, expectedHead: bare.head }, 'undo');
    expect((await background(back)).at(160, 100)).toEqual((await background(done)).at(160, 100));
  });

  test('a brought-in plate is whole: it is neither filled nor painted on', async () => {
    const s = await begin();
    const came = await importPlates(
      { id: s.id, expectedHead: s.head },
      { path: await stage.file('leaf.png', 40, 20, '#14dc3c'), fileName: 'leaf.png', zip: false },
    );
    const leaf = came.document.plates.find((p) => p.name === 'leaf')!;
    await expect(actOnFill({ id: s.id, expectedHead: came.head }, fill({ plate: leaf.id }))).rejects.toMatchObject({
      code: 'brought-in',
      message: expect.stringContaining('leaf was brought in'),
    });
    await expect(
      actOnFill(
        { id: s.id, expectedHead: came.head },
        {
          action: 'edit',
          plate: leaf.id,
          edit: { kind: 'erase', size: 20, hardness: 1, strength: 1, points: [{ x: 160, y: 100 }] },
        },
      ),
    ).rejects.toMatchObject({ code: 'brought-in' });
    expect((await shotState(s.id)).head).toBe(came.head);
  });

  test('a plate goes on behind a nearer one, and is filled there', async () => {
    const s = await begin();
    const wall = await actOnPlates(
      { id: s.id, expectedHead: s.head },
      {
        action: 'cut',
        plate: null,
        name: 'Panel',
        choice: box(60, 40, 260, 160),
        spare: true,
      },
    );
    const panel = wall.document.plates.find((p) => p.name === 'Panel')!;
    const nearer = await changeDocument({ id: s.id, expectedHead: wall.head }, 'Apart', {
      plates: [{ id: panel.id, near: 0.3, far: 0.2 }],
    });
    const done = await actOnFill(
      { id: s.id, expectedHead: nearer.head },
      fill({ plate: panel.id, area: { kind: 'hidden' } }),
    );
    // The box hides 80 x 60 px of it, and what its hole is pushed out by on every side.
    const filled = await filledPixels(done.document.plates.find((p) => p.id === panel.id)!.fill);
    const push = holePush(width);
    expect(filled).toBeGreaterThanOrEqual(80 * 60);
    expect(filled).toBeLessThanOrEqual((80 + 2 * push) * (60 + 2 * push));
    await expect(
      actOnFill(
        { id: s.id, expectedHead: done.head },
        fill({ plate: done.document.plates.find((p) => p.name === 'Box')!.id }),
      ),
    ).rejects.toMatchObject({ code: 'nothing-hidden', message: expect.stringContaining('Nothing hides Box') });
    const locked = await changeDocument({ id: s.id, expectedHead: done.head }, 'Lock', {
      plates: [{ id: panel.id, locked: true }],
    });
    await expect(actOnFill({ id: s.id, expectedHead: locked.head }, fill({ plate: panel.id }))).rejects.toMatchObject({
      code: 'plate-locked',
    });
  });

  test('nothing uncovered, nothing hidden, a moved-on shot: each says what it is', async () => {
    const s = await begin();
    const flat = await changeDocument({ id: s.id, expectedHead: s.head }, 'Flat', {
      budget: { nearPx: 0, farPx: 0 },
      holePx: 0,
    });
    await expect(actOnFill({ id: s.id, expectedHead: flat.head }, fill())).rejects.toMatchObject({
      code: 'nothing-revealed',
    });
    await expect(actOnFill({ id: s.id, expectedHead: flat.head - 1 }, fill())).rejects.toMatchObject({
      status: 409,
      code: 'moved-on',
    });
    const bare = await actOnPlates(
      { id: s.id, expectedHead: flat.head },
      { action: 'remove', plate: flat.document.plates[0].id },
    );
    await expect(actOnFill({ id: s.id, expectedHead: bare.head }, fill())).rejects.toMatchObject({
      code: 'nothing-hidden',
    });
  });

  test('a fill can be stopped and changes nothing', async () => {
    const s = await begin();
    const running = actOnFill(
      { id: s.id, expectedHead: s.head },
      fill({ seeds: [1, 2, 3, 4], area: { kind: 'hidden' } }),
    );
    const refused = expect(running).rejects.toMatchObject({
      code: 'stopped',
      message: 'Filling the back plate was stopped, so nothing was changed.',
    });
    for (let n = 0; n < 400 && workOf(s.id) === null; n++) await new Promise((r) => setTimeout(r, 5));
    stopWork(s.id);
    await refused;
    expect((await shotState(s.id)).head).toBe(s.head);
  });

  test('what many views uncover is found in steps, told, and stopped, while the server answers', async () => {
    const s = await begin();
    const running = actOnFill(
      { id: s.id, expectedHead: s.head },
      fill({ method: 'smooth', area: { kind: 'reveal', views: 200, marginPx: 0 } }),
    );
    const refused = expect(running).rejects.toMatchObject({ code: 'stopped' });
    const shares = new Set<number>();
    // Laying out in a thread comes first and takes as long as the machine likes; what follows tells its share.
    for (const until = Date.now() + 30_000; Date.now() < until && (workOf(s.id)?.share ?? 0) < 0.05;) {
      shares.add(workOf(s.id)?.share ?? 0);
      await new Promise((r) => {
        setImmediate(r);
      });
    }
    expect(shares.size).toBeGreaterThan(3);
    await expect(
      actOnFill({ id: s.id, expectedHead: s.head }, fill({ method: 'smooth', area: { kind: 'hidden' } })),
    ).rejects.toMatchObject({
      code: 'busy',
    });
    stopWork(s.id);
    await refused;
    expect((await shotState(s.id)).head).toBe(s.head);
    // Between the eyes nothing more comes to light than the outermost ones see.
    const [two, many] = [
      await actOnFill(
        { id: s.id, expectedHead: s.head },
        fill({ method: 'smooth', area: { kind: 'reveal', views: 2, marginPx: 0 } }),
      ),
      (await begin()).id,
    ];
    const other = await actOnFill(
      { id: many, expectedHead: await headOf(many) },
      fill({ method: 'smooth', area: { kind: 'reveal', views: 9, marginPx: 0 } }),
    );
    expect(await filledPixels(other.document.fill)).toBe(await filledPixels(two.document.fill));
  });
});

describe('what the shot’s move uncovers', () => {
  const MOVE: MovePart = {
    fps: 24,
    frames: 25,
    path: 'straight',
    pace: 'keys',
    play: 'loop',
    range: null,
    ready: null,
    keys: [0, 24].map((frame) => ({
      frame,
      ease: 'linear',
      value: { position: [frame / 96, 0, 0], aim: null, pan: 0, tilt: 0, roll: 0, zoom: 1 },
    })),
  };
  test('is filled, too, and a video of it then leaves nothing open', async () => {
    const begun = await begin();
    const s = await changeDocument({ id: begun.id, expectedHead: begun.head }, 'Move', { move: MOVE });
    const openIn = async (): Promise<number> => {
      const id = await startRender(s.id, {
        ...BEGIN_RECIPES.video,
        format: 'gif',
        size: 'custom',
        custom: { width: 64, height: 40 },
      });
      await claim(id, 'me');
      await runRender(await (await database()).findOneOrFail(Render, { id }), () => Promise.resolve());
      return (await listRenders(s.id))[0].report!.openPx!;
    };
    // 0.25 m at 343 px of focal length (50 degrees across): the box, at 1/2.15 m, passes the wall, at 1/9.8 m, by 31
    // px over
    // its 60 rows; both eyes see some 9 px more.
    expect(await openIn()).toBeGreaterThan(31 * 60 * 0.9);
    const area = { kind: 'reveal', views: 2, marginPx: 4 } as const;
    const still = await actOnFill({ id: s.id, expectedHead: s.head }, fill({ method: 'smooth', area }));
    const byEyes = await filledPixels(still.document.fill);
    const moved = await actOnFill(
      { id: s.id, expectedHead: still.head },
      fill({ method: 'smooth', area: { ...area, byMove: true } }),
    );
    expect((await filledPixels(moved.document.fill)) - byEyes).toBeGreaterThan(20 * 60);
    expect(await openIn()).toBe(0);
  });
});

describe('the depth behind the plates', () => {
  test('goes on from around by itself; opened it is painted, and views see it there; thrown away it goes on again', async () => {
    const s = await begin();
    const behindAt = async (t: ShotState): Promise<number> => (await laidOut(t)).depth.data[100 * width + 160];
    expect(await behindAt(s)).toBe(3000);
    const stroke = {
      kind: 'polygon' as const,
      points: [
        { x: 140, y: 80 },
        { x: 180, y: 80 },
        { x: 180, y: 120 },
        { x: 140, y: 120 },
      ],
      depth: 0.5,
    };
    await expect(editDepth({ id: s.id, expectedHead: s.head }, stroke, { behind: true })).rejects.toMatchObject({
      code: 'not-opened',
    });
    const opened = await actOnPlates({ id: s.id, expectedHead: s.head }, { action: 'open-behind' });
    expect(await behindAt(opened)).toBe(3000);
    const painted = await editDepth({ id: s.id, expectedHead: opened.head }, stroke, { behind: true });
    expect(Math.abs((await behindAt(painted)) - 32768)).toBeLessThanOrEqual(1);
    // By floors and walls it is made anew from around: what was painted has no part in it.
    const walls = await actOnPlates({ id: s.id, expectedHead: painted.head }, { action: 'open-behind', by: 'planes' });
    expect(Math.abs((await behindAt(walls)) - 3000)).toBeLessThanOrEqual(1);
    const again = await moveInHistory({ id: s.id, expectedHead: walls.head }, 'undo');
    expect(Math.abs((await behindAt(again)) - 32768)).toBeLessThanOrEqual(1);
    // The back plate's own map, from which plates are cut, stays as it was.
    expect(painted.document.depth.revision).toBe(s.document.depth.revision);
    expect(await behindAt(await actOnPlates({ id: s.id, expectedHead: again.head }, { action: 'close-behind' }))).toBe(
      3000,
    );
    const bare = await actOnPlates(
      { id: s.id, expectedHead: (await shotState(s.id)).head },
      {
        action: 'remove',
        plate: s.document.plates[0].id,
      },
    );
    await expect(actOnPlates({ id: s.id, expectedHead: bare.head }, { action: 'open-behind' })).rejects.toMatchObject({
      code: 'nothing-hidden',
    });
  });
});

test('what was painted on a plate’s own pixels, in documents of before, stays where it was', async () => {
  const s = await begin();
  await asBefore(s.id, (document) => ({
    ...document,
    overpaint: undefined,
    plates: document.plates.map((p) => ({ ...p, overpaint: undefined })),
  }));
  expect((await shotState(s.id)).document).toEqual(s.document);
});

test('documents of before get fills, tears, a frame and a depth behind', async () => {
  const s = await begin();
  await asBefore(s.id, (document) => ({
    ...document,
    fill: undefined,
    holePx: undefined,
    frame: undefined,
    tearSoftPx: undefined,
    depth: { ...document.depth, behind: undefined },
    plates: document.plates.map((p) => ({ ...p, fill: undefined, tearPx: undefined, tearSoftPx: undefined })),
  }));
  expect((await shotState(s.id)).document).toEqual(s.document);
});

describe('the border', () => {
  test('is measured, extended by just enough, and then no view runs out within the frame; undo takes it back', async () => {
    const s = await begin();
    const deep = await changeDocument({ id: s.id, expectedHead: s.head }, 'Deep', {
      budget: { nearPx: -10, farPx: 24 },
    });
    const dry = await coverage(s.id, 2);
    // The wall lies at 3000 of 65535: 22.4 px behind the screen; each eye sees half of it.
    expect([dry.left, dry.right]).toEqual([11, 11]);
    const wide = await extendBorder(
      { id: s.id, expectedHead: deep.head },
      {
        left: dry.left,
        right: dry.right,
        top: 0,
        bottom: 0,
        method: 'mirror',
        seed: 1,
      },
    );
    expect(wide.document).toMatchObject({
      source: { width: width + 22, height },
      frame: { left: 11, top: 0, width, height, mediaId: s.document.source.mediaId },
    });
    expect(await coverage(s.id, 2)).toMatchObject({ left: 0, right: 0 });
    const [plate] = wide.document.plates;
    const matte = await storedMatte(plate.matte!);
    expect([matte.data[100 * (width + 22) + 130], matte.data[100 * (width + 22) + 131]]).toEqual([0, 255]);
    const moved = await loadChoice(await database(), plate.choice!);
    expect(moved.ingredients[0]).toMatchObject({ points: [{ x: 131, y: 70 }, {}, {}, {}] });
    const picture = await sourcePicture(wide);
    const was = await sourcePicture(s);
    for (const [x, y] of [
      [0, 0],
      [160, 100],
      [319, 199],
    ])
      expect(pixel(picture, x + 11, y)).toEqual(pixel(was, x, y));
    const back = await moveInHistory({ id: s.id, expectedHead: wide.head }, 'undo');
    expect(back.document).toMatchObject({ source: { width }, frame: null });
  });
  test('by texture it is made beside the server’s other work: one at a time, stopped it changes nothing', async () => {
    const s = await begin();
    const border = { left: 120, right: 120, top: 60, bottom: 60, method: 'texture' as const, seed: 1 };
    const running = extendBorder({ id: s.id, expectedHead: s.head }, border);
    const refused = expect(running).rejects.toMatchObject({
      code: 'stopped',
      message: 'Extending the canvas was stopped, so nothing was changed.',
    });
    for (let n = 0; n < 400 && workOf(s.id) === null; n++) await new Promise((r) => setTimeout(r, 5));
    expect(workOf(s.id)).toMatchObject({ name: 'the canvas' });
    await expect(extendBorder({ id: s.id, expectedHead: s.head }, border)).rejects.toMatchObject({ code: 'busy' });
    stopWork(s.id);
    await refused;
    expect((await shotState(s.id)).document).toEqual(s.document);
  });
  test('nothing to add, or too much, is refused', async () => {
    const s = await begin();
    const none = { left: 0, right: 0, top: 0, bottom: 0, method: 'mirror' as const, seed: 1 };
    await expect(extendBorder({ id: s.id, expectedHead: s.head }, none)).rejects.toMatchObject({ code: 'no-border' });
    await expect(extendBorder({ id: s.id, expectedHead: s.head }, { ...none, left: 321 })).rejects.toThrow(
      'The border at the left is 321 px; it must be a whole number from 0 to 320 px.',
    );
  });
});
