import { deflateRawSync } from 'node:zlib';
import { seeded } from '@/tests/support/chance';
import { CODING, pack, unpack } from './packing';

const chance = seeded(7);
const sorts: readonly [string, Uint16Array][] = [
  ['one value everywhere', new Uint16Array(65_536).fill(30_000)],
  ['noise, which does not get smaller', Uint16Array.from({ length: 65_536 }, () => chance() * 65_536)],
  ['a tile of four channels', Uint16Array.from({ length: 262_144 }, (_, n) => (n % 4) * 9000 + (n >> 8))],
  ['a single value', Uint16Array.of(513)],
];

const bytes = ({ buffer, byteOffset, byteLength }: Uint16Array): Buffer => Buffer.from(buffer, byteOffset, byteLength);

describe('packed values', () => {
  test.each(sorts)('%s come back as they were', async (_name, values) => {
    expect(bytes(await unpack(await pack(values), CODING)).equals(bytes(values))).toBe(true);
  });

  test.each(sorts)('%s, packed as they were before, are read on', async (_name, values) => {
    expect(bytes(await unpack(deflateRawSync(bytes(values)), 0)).equals(bytes(values))).toBe(true);
  });

  test('a small tile keeps no more alive than it holds', async () => {
    const small = new Uint16Array(1024).fill(7);
    for (const values of [await unpack(await pack(small), CODING), await unpack(deflateRawSync(bytes(small)), 0)])
      expect(values.buffer.byteLength).toBe(2048);
  });

  test('a part of a longer buffer is packed for itself', async () => {
    const part = new Uint16Array(new Uint16Array([1, 2, 3, 4, 5]).buffer, 4, 2);
    expect(await unpack(await pack(part), CODING)).toEqual(Uint16Array.of(3, 4));
  });
});
