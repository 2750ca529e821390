import { existsSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { database } from '@/server/db/orm';
import { listNetworks, networkPath } from '@/server/network/networks';
import { loadRevision, readMap } from '@/server/rasters/revisions';
import { networkDepth } from '@/server/shots/depth';
import { shotState } from '@/server/shots/history';
import { stopWork, workOf } from '@/server/shots/longWork';
import { corkTwin } from '../support/cli';
import { endless, floats, intAttribute, intsAttribute, meanOfChannels, node, onnx } from '../support/onnx';
import { headOf, scene } from '../support/scene';

const SIZE = 32;
const dir = mkdtempSync(join(tmpdir(), 'cork-networks-'));
const stage = scene('Depth networks');
/** Grey from black at the left to white at the right. */
const begin = (): Promise<string> => stage.shot('grey', [128, 64], (x) => [x * 2, x * 2, x * 2]);
const run = async (id: string, name: string, edges = 0) =>
  networkDepth({ id, expectedHead: await headOf(id) }, { name, edges }, null);

function put(name: string, file: Buffer, sidecar: object | string | null = {}): void {
  writeFileSync(join(dir, name), file);
  const json =
    typeof sidecar === 'string' ? sidecar : JSON.stringify({ width: SIZE, height: SIZE, says: 'nearness', ...sidecar });
  if (sidecar !== null) writeFileSync(join(dir, name.replace('.onnx', '.json')), json);
}

beforeAll(() => {
  process.env.CORK_NETWORKS = dir;
  put('mean.onnx', meanOfChannels(SIZE));
  put('distance.onnx', meanOfChannels(SIZE), { says: 'distance' });
  put(
    'free.onnx',
    onnx({
      input: ['batch', 'rows', 'columns', 3],
      output: ['batch', 'rows', 'columns'],
      nodes: [
        node('Mul', ['picture', 'minus'], 'turned'),
        node('ReduceMax', ['turned'], 'depth', [intAttribute('keepdims', 0), axes(3)]),
      ],
      constants: [floats('minus', [1], [-1])],
    }),
    { layout: 'nhwc' },
  );
  put('endless.onnx', endless(SIZE), { seconds: 2 });
  put('long.onnx', endless(SIZE), { seconds: 3000 });
  put('words.onnx', Buffer.from('a depth network, but not in this file'));
  put('cut-off.onnx', meanOfChannels(SIZE).subarray(0, 60));
  put('empty.onnx', Buffer.alloc(0));
  put('small.onnx', meanOfChannels(64));
  put(
    'colours.onnx',
    onnx({
      input: [1, 3, SIZE, SIZE],
      output: [1, 3, SIZE, SIZE],
      nodes: [node('Relu', ['picture'], 'depth')],
    }),
  );
  put(
    'unknown.onnx',
    onnx({
      input: [1, 3, SIZE, SIZE],
      output: [1, 1, SIZE, SIZE],
      nodes: [node('NobodyKnowsThis', ['picture'], 'depth')],
    }),
  );
  put(
    'same.onnx',
    onnx({
      input: [1, 3, SIZE, SIZE],
      output: [1, 1, SIZE, SIZE],
      nodes: [
        node('Mul', ['picture', 'nothing'], 'black'),
        node('ReduceMax', ['black'], 'depth', [intAttribute('keepdims', 1), axes(1)]),
      ],
      constants: [floats('nothing', [1], [0])],
    }),
  );
  put('alone.onnx', meanOfChannels(SIZE), null);
  put('no-json.onnx', meanOfChannels(SIZE), 'width: 32');
  put('no-size.onnx', meanOfChannels(SIZE), { width: undefined });
});

function axes(...list: number[]) {
  return intsAttribute('axes', list);
}

test('the folder is listed, with what stands in the way of each', async () => {
  const found = new Map((await listNetworks()).map(({ name, trouble }) => [name, trouble]));
  expect(found.get('mean.onnx')).toBeNull();
  expect(found.get('alone.onnx')).toMatch(/^alone\.onnx has no alone\.json beside it/);
  expect(found.get('no-json.onnx')).toMatch(/no-json\.json beside no-json\.onnx is no JSON/);
  expect(found.get('no-size.onnx')).toMatch(/no-size\.json beside no-size\.onnx: width/);
});

test.each(['../mean.onnx', 'nowhere.onnx', '.', `${dir}/mean.onnx`])('%s is no network of the folder', async (name) => {
  await expect(networkPath(name)).rejects.toMatchObject({ code: 'not-found' });
});

test('a network makes the map, as one step of the history', async () => {
  const id = await begin();
  const state = await run(id, 'mean.onnx');
  expect(state.undo).toBe('Depth by mean.onnx');
  const em = await database();
  const map = await readMap(em, await loadRevision(em, state.document.depth.revision));
  expect([map.width, map.height]).toEqual([128, 64]);
  // Four columns a number, and between the middles of these straight lines: exact but for the first and the last two.
  for (const y of [0, 31, 63])
    for (const x of [2, 50, 64, 100, 125])
      expect(Math.abs(map.data[y * 128 + x] / 65535 - (x - 1.5) / 124)).toBeLessThan(1 / 255);
});

test('a distance and a network that takes any size, pixel by pixel, are turned so that white is near', async () => {
  const id = await begin();
  const em = await database();
  for (const name of ['distance.onnx', 'free.onnx']) {
    const { document } = await run(id, name);
    const { data } = await readMap(em, await loadRevision(em, document.depth.revision));
    expect(data[32 * 128 + 1]).toBeGreaterThan(data[32 * 128 + 126]);
  }
});

test.each([
  ['endless.onnx', 'network-endless', /ended after 2 s/],
  ['words.onnx', 'network-broken', /cannot be opened/],
  ['cut-off.onnx', 'network-broken', /cannot be opened/],
  ['empty.onnx', 'network-broken', /cannot be opened/],
  ['unknown.onnx', 'network-broken', /NobodyKnowsThis/],
  ['small.onnx', 'network-shape', /takes 1 × 3 × 64 × 64 numbers/],
  ['colours.onnx', 'network-shape', /gives 1 × 3 × 32 × 32 numbers/],
  ['same.onnx', 'network-values', /the same depth everywhere/],
  ['alone.onnx', 'no-sidecar', /alone\.json/],
])('%s is refused by name: %s', async (name, code, message) => {
  const id = await begin();
  const before = await headOf(id);
  const refused = (await run(id, name).catch((error: unknown) => error)) as { code: string; message: string };
  expect(refused.code).toBe(code);
  expect(refused.message).toMatch(message);
  expect(refused.message).toContain(name);
  expect(await headOf(id)).toBe(before);
});

test('while one runs the server answers, and it can be stopped', async () => {
  const id = await begin();
  const before = await headOf(id);
  const running = run(id, 'long.onnx').catch((error: unknown) => error);
  // 0.3: it has been opened and computes.
  while ((workOf(id)?.share ?? 0) < 0.3) await new Promise((soon) => setTimeout(soon, 20));
  expect((await shotState(id)).head).toBe(before);
  stopWork(id);
  expect(await running).toMatchObject({ code: 'stopped' });
  expect(await headOf(id)).toBe(before);
});

test('the command line runs a file anywhere, and refuses one by name', async () => {
  const picture = join(dir, 'picture.png');
  const out = join(dir, 'out.png');
  const grey = Buffer.from(Uint8Array.from({ length: 128 * 64 * 3 }, (_, i) => (Math.floor(i / 3) % 128) * 2));
  await sharp(grey, { raw: { width: 128, height: 64, channels: 3 } })
    .png()
    .toFile(picture);
  const words = ['depth-generate', '--picture', picture, '--out', out, '--network'];
  expect(corkTwin(...words, join(dir, 'mean.onnx')).err).toBe('');
  const { data } = await sharp(out).toColourspace('b-w').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
  const row = new Uint16Array(data.buffer, data.byteOffset + 32 * 128 * 2, 128);
  expect(row[0]).toBeLessThan(row[64]);
  expect(row[64]).toBeLessThan(row[127]);
  const bad = corkTwin(
    'depth-generate',
    '--picture',
    picture,
    '--out',
    join(dir, 'bad.png'),
    '--network',
    join(dir, 'words.onnx'),
  );
  expect(bad.status).not.toBe(0);
  expect(bad.err).toMatch(/words\.onnx: It cannot be opened/);
  expect(existsSync(join(dir, 'bad.png'))).toBe(false);
});
