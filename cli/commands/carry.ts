import { mkdir, readdir } from 'node:fs/promises';
import { basename, extname, join, resolve } from 'node:path';
import { carryDepth, type DepthKey } from '@/core/carry/carryDepth';
import { carryMatte, type MatteKey } from '@/core/carry/carryMatte';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { CoreError } from '@/core/error';
import { readDepthFile, writeDepthFile } from '@/server/media/depthFile';
import { readMatteFile } from '@/server/media/matteFile';
import { openFrames, type NamedFrames } from '@/server/media/video/frames';
import { writeMatte } from '@/server/media/writePicture';
import { needed, oneOf, readWords, WrongWords } from '../words';

/** Carries depth or mattes from the frames that have them to all others. */
export async function carry(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    frames: { type: 'string' },
    keys: { type: 'string' },
    kind: { type: 'string' },
    out: { type: 'string' },
    json: { type: 'boolean' },
  });
  const framesPath = needed('frames', given.frames);
  const keysDir = needed('keys', given.keys);
  const kind = oneOf('kind', given.kind, ['depth', 'matte']);
  const out = needed('out', given.out);
  for (const [name, path] of [
    ['frames', framesPath],
    ['keys', keysDir],
  ])
    if (resolve(path) === resolve(out))
      throw new WrongWords(`--out must be another folder than --${name}: files of the same names would be lost.`);
  const frames = await openFrames(framesPath);
  try {
    const keys = await keyFiles(keysDir, frames, kind);
    const trust: { name: string; key: boolean; trust: number }[] = [];
    const carried = kind === 'depth' ? carriedDepths(frames, keys) : carriedMattes(frames, keys);
    for await (const { frame, trust: trusted, write } of carried) {
      const name = `${frames.names[frame]}.png`;
      if (trust.length === 0) await mkdir(out, { recursive: true });
      await write(join(out, name));
      trust.push({ name, key: keys.some((key) => key.frame === frame), trust: Number(trusted.toFixed(4)) });
    }
    if (given.json) console.log(JSON.stringify({ frames: trust.sort((a, b) => (a.name < b.name ? -1 : 1)) }));
  } finally {
    await frames.close();
  }
}

interface KeyFile {
  readonly frame: number;
  readonly file: string;
  readonly path: string;
}

const ENDINGS = { depth: /\.(png|tiff?|exr|pfm)$/i, matte: /\.(png|tiff?)$/i };

/** What was made of key frames: files that are named like them. */
async function keyFiles(dir: string, { names, count }: NamedFrames, kind: keyof typeof ENDINGS): Promise<KeyFile[]> {
  const files = (await readdir(dir)).filter((file) => ENDINGS[kind].test(file)).sort();
  const keys = files.map((file): KeyFile => {
    const frame = names.indexOf(basename(file, extname(file)));
    if (frame < 0)
      throw new CoreError(
        'no-such-frame',
        `${file} is named like none of the ${count} frames, which go from ${names[0]} to ${names[count - 1]}.`,
      );
    return { frame, file, path: join(dir, file) };
  });
  return keys.sort((a, b) => a.frame - b.frame);
}

interface Written {
  readonly frame: number;
  readonly trust: number;
  write(path: string): Promise<void>;
}

async function* carriedDepths(frames: NamedFrames, files: readonly KeyFile[]): AsyncGenerator<Written> {
  const keys: DepthKey[] = [];
  for (const { frame, path, file } of files)
    keys.push({ frame, depth: await readDepthFile(path, file, { whiteIsNear: true, mend: false }) });
  const size = await frames.frame(0);
  for await (const { frame, depth, trust } of carryDepth(frames, keys))
    yield { frame, trust, write: (path) => writeDepthFile(path, toDepthMap(size, depth)) };
}

async function* carriedMattes(frames: NamedFrames, files: readonly KeyFile[]): AsyncGenerator<Written> {
  const keys: MatteKey[] = [];
  for (const { frame, path, file } of files) keys.push({ frame, matte: await readMatteFile(path, file) });
  for await (const { frame, matte, trust } of carryMatte(frames, keys))
    yield { frame, trust, write: (path) => writeMatte(path, matte) };
}
