import { HALVINGS } from '@/core/raster/halvings';
import { reducePlane } from '@/core/raster/resizePlane';
import { database, inTransaction } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readReduced, readReducedMatte } from '@/server/rasters/pyramid';
import { loadRevision, storeMap, type Revision } from '@/server/rasters/revisions';
import { seeded } from '../support/chance';
import { houseOfTest } from '../support/house';

let house: Awaited<ReturnType<typeof houseOfTest>>;
beforeAll(async () => {
  house = await houseOfTest();
});
afterAll(async () => {
  await house.end();
});

const width = 1104;
const height = 624;
const chance = seeded(8);
/** A plane that changes slowly, with fine noise over it. */
const values = Uint16Array.from({ length: width * height }, (_, i) =>
  Math.round(20000 + 15000 * Math.sin((i % width) / 90) + 5000 * chance()),
);
const whole = { left: 0, top: 0, right: width, bottom: height };

async function stored(data: Uint16Array): Promise<Revision> {
  const { id } = await inTransaction((em) => storeMap(em, { width, height, data }));
  return loadRevision(await database(), id);
}
const levels = async (): Promise<number> =>
  Number((await query<{ n: string }>(await database(), 'select count(*) as n from tile_level'))[0].n);

describe('a stored raster, read smaller', () => {
  test.each([2, 4, 8, 16])('a matte at 1/%i is the mean of its pixels, across tiles', async (part) => {
    const size = { width: width / part, height: height / part };
    const read = await readReducedMatte(await database(), await stored(values), { ...whole, ...size });
    const direct = reducePlane({ width, height, data: values }, size);
    const most = read.reduce((apart, v, i) => Math.max(apart, Math.abs(v - direct[i])), 0);
    // Each halving and both reductions round once, by half a step at most.
    expect(most).toBeLessThanOrEqual((HALVINGS + 2) / 2);
    expect(new Set(direct).size).toBeGreaterThan(1000);
  });

  test('a depth map keeps two things apart at every size', async () => {
    const two = Uint16Array.from({ length: width * height }, (_, i) => (i % width < 333 ? 10000 : 50000));
    const revision = await stored(two);
    for (const part of [2, 4, 8, 10]) {
      const size = { width: Math.floor(width / part), height: Math.floor(height / part) };
      const map = await readReduced(await database(), revision, { ...whole, ...size });
      expect(new Set(map.data)).toEqual(new Set([10000, 50000]));
      // The edge stays where it is, within a pixel of the smaller map.
      const edge = map.data.indexOf(50000);
      expect(Math.abs(edge - (333 * size.width) / width)).toBeLessThanOrEqual(1);
    }
  });

  test('its smaller tiles are made once and stored, and a window reads only those under it', async () => {
    const em = await database();
    const revision = await stored(Uint16Array.from(values, (v) => v + 1));
    const before = await levels();
    const corner = { left: 0, top: 0, right: 256, bottom: 256 };
    await readReducedMatte(em, revision, { ...corner, width: 64, height: 64 });
    expect((await levels()) - before).toBe(HALVINGS);
    await readReducedMatte(em, revision, { ...corner, width: 128, height: 128 });
    expect((await levels()) - before).toBe(HALVINGS);
    await readReducedMatte(em, revision, { ...whole, width: 69, height: 39 });
    expect((await levels()) - before).toBe(HALVINGS * Math.ceil(width / 256) * Math.ceil(height / 256));
  });
});
