import type { ShotRasters } from '@/core/shot/rasters';
import type { Revealed } from '@/core/fill/revealMap';
import type { Premultiplied8 } from '@/core/raster/picture';
import { RevealCounter, type RevealOrder } from './revealCounter';
import { sceneOf, type SceneFrame } from '@/core/scene/sceneOf';

const size = { width: 40, height: 10 };
const rasters: ShotRasters<Premultiplied8> = {
  picture: { bits: 8 as const, alpha: 'premultiplied' as const, ...size, data: new Uint8Array(1600).fill(200) },
  depth: { ...size, data: Uint16Array.from({ length: 400 }, (_, i) => (i % 40 < 20 ? 65535 : 0)) },
  plates: [],
};
const sceneAt = (nearPx: number): SceneFrame =>
  sceneOf({
    budget: { nearPx, farPx: 0 },
    sourceEye: 'left',
    swapEyes: false,
    tearPx: 2,
    tearSoftPx: 0,
    holePx: null,
    depth: { near: 1, far: 0 },
    source: { width: 40 },
    plates: [],
  });
const order = (nearPx: number, views: number, stamp = 1): RevealOrder => ({
  scene: sceneAt(nearPx),
  rasters,
  scale: 1,
  views,
  marginPx: 0,
  move: null,
  stamp,
});

/** A worker that answers when it is told to. */
function elsewhere() {
  const asked: { eyes: readonly number[]; answer(found: Revealed[] | undefined): void }[] = [];
  const counter = new RevealCounter(
    (_document, eyes) =>
      new Promise((answer) => {
        asked.push({ eyes, answer });
      }),
    () => {
      news.count++;
    },
  );
  const news = { count: 0 };
  return { asked, counter, told: news };
}
const map = (count: number): Revealed[] => [
  { id: null, count, torn: 0, covers: 400, mask: { ...size, data: new Uint8Array(400) } },
];

describe('the counting of what views uncover', () => {
  test('without another worker it counts at once: a jump of 6 px tears 5 px open a row', async () => {
    const counter = new RevealCounter();
    expect(await counter.want(order(-6, 2))).toBe(true);
    expect(counter.found).toMatchObject([{ id: null, torn: 60, covers: 400 }]);
    const { found } = counter;
    await counter.want(order(-6, 2));
    expect(counter.found).toBe(found);
    await counter.want(order(-3, 2));
    expect(counter.found[0].torn).toBe(30);
  });

  test('one order is counted once, however often it is wanted, and told when it is there', async () => {
    const { asked, counter, told: news } = elsewhere();
    const both = [counter.want(order(-6, 24)), counter.want(order(-6, 24))];
    expect(asked).toHaveLength(1);
    expect(asked[0].eyes).toHaveLength(24);
    expect([counter.found, news.count]).toEqual([[], 0]);
    asked[0].answer(map(7));
    expect(await Promise.all(both)).toEqual([true, true]);
    expect([counter.found[0].count, news.count]).toEqual([7, 1]);
    expect(await counter.want(order(-6, 24))).toBe(true);
    expect(asked).toHaveLength(1);
  });

  test('a count of many views gives way to a newer one, and what was known stays shown', async () => {
    const { asked, counter, told: news } = elsewhere();
    const first = counter.want(order(-6, 24));
    const second = counter.want(order(-7, 24));
    expect(asked).toHaveLength(2);
    asked[0].answer(undefined);
    expect(await first).toBe(false);
    expect([counter.found, news.count]).toEqual([[], 0]);
    asked[1].answer(map(9));
    expect(await second).toBe(true);
    expect([counter.found[0].count, news.count]).toEqual([9, 1]);
  });

  test('while a value is dragged both eyes are counted to the end, and only the newest value next', async () => {
    const { asked, counter } = elsewhere();
    const first = counter.want(order(-6, 2));
    const skipped = counter.want(order(-7, 2));
    const last = counter.want(order(-8, 2));
    expect(asked).toHaveLength(1);
    asked[0].answer(map(6));
    expect(await first).toBe(true);
    expect(await skipped).toBe(false);
    await Promise.resolve();
    expect(asked).toHaveLength(2);
    expect(counter.found[0].count).toBe(6);
    asked[1].answer(map(8));
    expect(await last).toBe(true);
    expect(counter.found[0].count).toBe(8);
  });

  test('a counter of the same plates takes over what is known, and counts nothing; of other plates it does not', async () => {
    const { asked, counter } = elsewhere();
    const first = counter.want(order(-6, 2, 4));
    asked[0].answer(map(5));
    await first;
    const same = elsewhere();
    const other = elsewhere();
    same.counter.inherit(counter, 4, 1);
    other.counter.inherit(counter, 5, 1);
    expect(await same.counter.want(order(-6, 2, 1))).toBe(true);
    expect([same.counter.found[0].count, same.asked.length]).toEqual([5, 0]);
    void other.counter.want(order(-6, 2, 1));
    expect([other.counter.found, other.asked.length]).toEqual([[], 1]);
  });

  test('another laying out of the plates is counted anew', async () => {
    const { asked, counter } = elsewhere();
    const first = counter.want(order(-6, 24, 1));
    asked[0].answer(map(1));
    await first;
    void counter.want(order(-6, 24, 2));
    expect(asked).toHaveLength(2);
  });
});
