import type { Choice } from '@/core/matte/choice';
import { PLAIN_EDGE } from '@/core/matte/choice';
import { copyPicture, toEightBits } from '@/core/raster/picture';
import { ycbcrToRgb } from '@/core/raster/ycbcr';
import { atMoment } from '@/core/shot/atMoment';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { database } from '@/server/db/orm';
import { proxyState } from '@/server/media/footage/proxies';
import { FilmShop } from '@/server/renders/filmShop';
import { bringIn } from '@/server/shots/bringIn';
import { carriedIsThere, depthMap, filledPicture, matteMap } from '@/server/shots/carriedRasters';
import { carryBehind, carryShot } from '@/server/shots/carryShot';
import { loadChoice } from '@/server/shots/choices';
import { depthByMotion } from '@/server/shots/depth';
import { actOnFill } from '@/server/shots/fills';
import { footageState } from '@/server/shots/footageState';
import { moveInHistory, shotState } from '@/server/shots/history';
import { keyPlate } from '@/server/shots/plateKeys';
import { actOnPlates } from '@/server/shots/plates';
import { changeDocument } from '@/server/shots/shots';
import { endThreads } from '@/server/threads/pool';
import { discAt, discFilm, groundAt, inDisc, RADIUS } from '../support/discFilm';
import { HIGH, WIDE } from '../support/film';
import { replaceDepth } from '../support/replaceDepth';
import { headOf, scene } from '../support/scene';

const stage = scene('Plates of films', endThreads);
const COUNT = 7;
let made = 0;
async function begin(): Promise<string> {
  const name = `disc-${made++}.mp4`;
  const id = await bringIn(stage.project, discFilm(`${stage.dir}/${name}`, COUNT), name);
  const { document } = await shotState(id);
  for (;;) {
    const { ready, frames, problem } = await proxyState(document.source);
    if (problem !== null) throw new Error(problem);
    if (ready === frames) break;
    await new Promise((done) => setTimeout(done, 30));
  }
  await replaceDepth(await at(id, 0), 'Disc before a ground', {
    width: WIDE,
    height: HIGH,
    data: Uint16Array.from({ length: WIDE * HIGH }, (_, i) =>
      inDisc(i % WIDE, Math.floor(i / WIDE), 0) ? 50_000 : 20_000,
    ),
  });
  return id;
}

const at = async (id: string, moment: number) => ({ id, expectedHead: await headOf(id), moment });
const seenAt = async (id: string, moment: number): Promise<ShotDocument> =>
  atMoment((await shotState(id)).document, moment, carriedIsThere);
const plateAt = async (id: string, moment: number): Promise<Plate> => (await seenAt(id, moment)).plates[0];

const outlined = (n: number): Choice => ({
  ingredients: [
    {
      kind: 'outline',
      way: 'add',
      points: Array.from({ length: 24 }, (_, k) => ({
        x: discAt(n)[0] + 0.5 + RADIUS * Math.cos((k * Math.PI) / 12),
        y: discAt(n)[1] + 0.5 + RADIUS * Math.sin((k * Math.PI) / 12),
      })),
    },
  ],
  edge: PLAIN_EDGE,
});
const nearer: Choice = { ingredients: [{ kind: 'slice', way: 'add', far: 0.5, near: 1 }], edge: PLAIN_EDGE };

const cutDisc = async (id: string, choice: Choice, moment = 0) =>
  actOnPlates(await at(id, moment), { action: 'cut', plate: null, name: 'Disc', choice, spare: true });

/** Intersection over union with where the disc truly is. */
async function overlap(matte: string, { source }: ShotDocument, n: number): Promise<number> {
  const { data } = await matteMap(matte, source);
  let [both, either] = [0, 0];
  data.forEach((v, i) => {
    const [a, b] = [v >= 128, inDisc(i % WIDE, Math.floor(i / WIDE), n)];
    if (a && b) both++;
    if (a || b) either++;
  });
  return both / either;
}

// The outline of a disc of radius 16 that is off by a pixel all around overlaps by .88.
const CLOSE = 0.9;

describe('a plate of a film', () => {
  test('that outlines cut is carried point by point, keyed where it is corrected, and found again by undo', async () => {
    const id = await begin();
    await cutDisc(id, outlined(0));
    const before = await plateAt(id, 3);
    expect([before.matte, before.keys.map((k) => k.frame)]).toEqual([null, [0]]);
    expect((await carryShot(id)).carried).toBe(2 * (COUNT - 1));
    const document = await seenAt(id, 5);
    const [plate] = document.plates;
    expect(plate.matte).toMatch(/^plate_/);
    expect(await overlap(plate.matte!, document, 5)).toBeGreaterThan(CLOSE);
    // Its depth goes with it.
    const depth = await depthMap(plate.depth.revision!, document.source);
    const value = depth.data[discAt(5)[1] * WIDE + discAt(5)[0]] / 65535;
    expect(Math.abs(plate.depth.far + value * (plate.depth.near - plate.depth.far) - 50_000 / 65535)).toBeLessThan(
      0.02,
    );
    // A key there holds the outline where it was carried to: that can be corrected.
    await keyPlate(await at(id, 5), plate.id, 'set');
    const keyed = await plateAt(id, 5);
    const choice = await loadChoice(await database(), keyed.choice!);
    const [ingredient] = choice.ingredients;
    const points = ingredient.kind === 'outline' ? ingredient.points : [];
    const mean = points.reduce((sum, p) => sum + p.x, 0) / points.length;
    expect(Math.abs(mean - discAt(5)[0] - 0.5)).toBeLessThan(1);
    expect((await footageState(id)).plates[0].trust.map((v) => v === null)).toEqual(
      Array.from({ length: COUNT }, (_, n) => n !== 0 && n !== 5),
    );
    await moveInHistory(await at(id, 0), 'undo');
    expect((await carryShot(id)).carried).toBe(0);
  });

  test('that no outline chose is carried as it looks; spans run between keys, and are set at keys alone', async () => {
    const id = await begin();
    await cutDisc(id, nearer);
    await carryShot(id);
    const document = await seenAt(id, COUNT - 1);
    expect(await overlap(document.plates[0].matte!, document, COUNT - 1)).toBeGreaterThan(CLOSE);
    const { id: plate } = document.plates[0];
    await expect(
      changeDocument(await at(id, 4), 'Nearer', { plates: [{ id: plate, near: 0.9, far: 0.8 }] }),
    ).rejects.toThrow(/Disc has no key at frame 5: it is carried there/);
    await keyPlate(await at(id, COUNT - 1), plate, 'set');
    await changeDocument(await at(id, COUNT - 1), 'Nearer', { plates: [{ id: plate, near: 0.98, far: 0.94 }] });
    const [first, half] = [await plateAt(id, 0), await plateAt(id, 3)];
    expect(half.depth.near).toBeCloseTo((first.depth.near + 0.98) / 2, 6);
  });

  test('is gone where a key says so, keeps one key at least, and is not merged or split', async () => {
    const id = await begin();
    await cutDisc(id, nearer);
    await carryShot(id);
    const { id: plate } = await plateAt(id, 0);
    await expect(keyPlate(await at(id, 0), plate, 'drop')).rejects.toMatchObject({ code: 'last-key' });
    await expect(keyPlate(await at(id, 0), plate, 'gone')).rejects.toMatchObject({ code: 'last-key' });
    await expect(keyPlate(await at(id, 2), plate, 'drop')).rejects.toMatchObject({ code: 'no-key' });
    await expect(keyPlate(await at(id, COUNT), plate, 'set')).rejects.toMatchObject({ code: 'no-such-frame' });
    await keyPlate(await at(id, 4), plate, 'gone');
    expect((await plateAt(id, 4)).matte).toBeNull();
    await expect(keyPlate(await at(id, 3), plate, 'set')).rejects.toMatchObject({ code: 'not-carried' });
    await keyPlate(await at(id, 4), plate, 'drop');
    expect((await plateAt(id, 4)).matte).toMatch(/^plate_/);
    await expect(
      actOnPlates(await at(id, 0), { action: 'split', plate, name: 'Half', choice: nearer }),
    ).rejects.toMatchObject({ code: 'not-on-footage' });
  });
});

describe('what lies behind the plates of a film', () => {
  test('is the ground that other frames show, the same bits in all that hide it, and is what the eyes see there', async () => {
    const id = await begin();
    await expect(carryBehind(id)).rejects.toMatchObject({ code: 'nothing-hidden' });
    await cutDisc(id, nearer);
    await expect(carryBehind(id)).rejects.toThrow(/not carried to frame 2 yet/);
    const open = (await shotState(id)).document;
    expect(() => {
      new FilmShop(open, open.footage!).requireCarried();
    }).toThrow(/frames have no depth yet/);
    await carryShot(id);
    expect(await carryBehind(id)).toEqual({ carried: COUNT });
    const known = new Map<number, number>();
    for (let n = 0; n < COUNT; n++) {
      const document = await seenAt(id, n);
      const { data } = await filledPicture(document.fill!, document.source);
      let [sum, many] = [0, 0];
      for (let i = 0; i < WIDE * HIGH; i++) {
        if (data[4 * i + 3] === 0) continue;
        sum += Math.abs(data[4 * i] - groundAt(i % WIDE, Math.floor(i / WIDE)));
        many++;
        if (known.has(i)) expect(data[4 * i]).toBe(known.get(i));
        known.set(i, data[4 * i]);
      }
      // The disc covers 804 px; the small pictures are JPEGs.
      expect(many).toBeGreaterThan(800);
      expect(sum / many).toBeLessThan(6);
      const behind = await depthMap(document.depth.behind!, document.source);
      expect(Math.abs(behind.data[discAt(n)[1] * WIDE + discAt(n)[0]] - 20_000)).toBeLessThan(700);
    }
    await changeDocument(await at(id, 0), 'Apart', { budget: { nearPx: -30, farPx: 0 } });
    const { document } = await shotState(id);
    const film = new FilmShop(document, document.footage!);
    const how = { size: document.source, shutter: 0 } as const;
    const seen = copyPicture(await film.see(3, 0.5, { ...how, colours: 'rgb' }));
    const planes = ycbcrToRgb(toEightBits(await film.see(3, 0.5, { ...how, colours: 'ycbcr' })));
    await film.end();
    // From the right eye the disc has gone some 11 px to the left, the ground 4: what it hid shows at its right.
    const x = discAt(3)[0] + RADIUS - 6;
    const value = seen.data[4 * (discAt(3)[1] * WIDE + x)];
    expect(Math.abs(value - groundAt(x + 4.6, discAt(3)[1]))).toBeLessThan(12);
    // In planes it is the same film; where colours of squares meet an edge they part.
    let apart = 0;
    for (let i = 0; i < seen.data.length; i++) apart += Math.abs(seen.data[i] - planes.data[i]) / seen.data.length;
    expect(apart).toBeLessThan(1);
  });

  test('is what was filled at one frame in the others too, once that is carried', async () => {
    const id = await begin();
    await cutDisc(id, nearer);
    await carryShot(id);
    await carryBehind(id);
    const fill = await actOnFill(await at(id, 3), {
      action: 'fill',
      plate: null,
      method: 'smooth',
      seeds: [1],
      area: { kind: 'hidden' },
      sample: { kind: 'everywhere' },
    });
    expect(fill.document.footage!.fills.map((k) => k.frame)).toEqual([3]);
    expect((await seenAt(id, 3)).fill).not.toMatch(/^filled_/);
    const { behind } = await footageState(id);
    // Its depth is known still; its colours are to be carried anew.
    expect([behind.depth.there.every(Boolean), behind.colours.there.some(Boolean)]).toEqual([true, false]);
    await carryBehind(id);
    const [here, beside] = [await seenAt(id, 3), await seenAt(id, 4)];
    const [a, b] = [await filledPicture(here.fill!, here.source), await filledPicture(beside.fill!, here.source)];
    const i = 4 * (discAt(3)[1] * WIDE + discAt(3)[0] + 6);
    expect(a.data[i + 3]).toBe(255);
    expect(Math.abs(a.data[i] - b.data[i])).toBeLessThan(2);
    await expect(actOnFill(await at(id, 3), { action: 'clear', plate: here.plates[0].id })).rejects.toMatchObject({
      code: 'not-on-footage',
    });
    const cleared = await actOnFill(await at(id, 3), { action: 'clear', plate: null });
    expect(cleared.document.footage!.fills).toEqual([]);
  });
});

test('a start from motion is refused before a camera that stands still, and where a frame has no depth of its own', async () => {
  const id = await begin();
  await expect(depthByMotion(await at(id, 0))).rejects.toThrow(/The camera hardly moves around frame 1/);
  await expect(depthByMotion(await at(id, 2))).rejects.toMatchObject({ code: 'no-key' });
});
