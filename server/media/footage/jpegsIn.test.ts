import { jpegsIn } from './jpegsIn';

const jpeg = (...body: number[]): Buffer => Buffer.from([0xff, 0xd8, ...body, 0xff, 0xd9]);
/** With FF as a value (FF 00), a restart marker, and D9 that is none. */
const pictures = [jpeg(1, 0xff, 0, 0xd9, 2), jpeg(0xff, 0xd0, 0xd9), jpeg(7)];
const stream = Buffer.concat(pictures);

async function cut(...pieces: Buffer[]): Promise<Buffer[]> {
  const found: Buffer[] = [];
  for await (const picture of jpegsIn(
    (async function* () {
      yield* await Promise.resolve(pieces);
    })(),
  ))
    found.push(picture);
  return found;
}

test('single pictures come out wherever the stream is cut', async () => {
  expect(await cut(stream)).toEqual(pictures);
  for (let at = 1; at < stream.length; at++)
    expect(await cut(stream.subarray(0, at), stream.subarray(at))).toEqual(pictures);
  expect(await cut(...[...stream].map((byte) => Buffer.from([byte])))).toEqual(pictures);
});

test('one that is not whole does not come out', async () => {
  expect(await cut(stream.subarray(0, -1))).toEqual(pictures.slice(0, -1));
  expect(await cut()).toEqual([]);
});
