import { mkdir, readdir } from 'node:fs/promises';
import { basename, extname, join, resolve } from 'node:path';
import { carryDepth, type DepthKey } from '@/core/carry/carryDepth';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { CoreError } from '@/core/error';
import { readDepthFile, writeDepthFile } from '@/server/media/depthFile';
import { openFrames, type NamedFrames } from '@/server/media/video/frames';
import { needed, oneOf, readWords, WrongWords } from '../words';

/** Carries depth from the frames that have it to all others. */
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
  oneOf('kind', given.kind, ['depth']);
  const out = needed('out', given.out);
  for (const [name, path] of [
    ['frames', framesPath],
    ['keys', keysDir],
  ])
    if (resolve(path) === resolve(out))
      throw new WrongWords(`--out must be another folder than --${name}: files of the same names would be lost.`);
  const frames = await openFrames(framesPath);
  try {
    const keys = await readKeys(keysDir, frames);
    const trust: { name: string; key: boolean; trust: number }[] = [];
    const size = await frames.frame(0);
    for await (const { frame, depth, trust: trusted } of carryDepth(frames, keys)) {
      const name = `${frames.names[frame]}.png`;
      if (trust.length === 0) await mkdir(out, { recursive: true });
      await writeDepthFile(join(out, name), toDepthMap(size, depth));
      trust.push({ name, key: keys.some((key) => key.frame === frame), trust: Number(trusted.toFixed(4)) });
    }
    if (given.json) console.log(JSON.stringify({ frames: trust.sort((a, b) => (a.name < b.name ? -1 : 1)) }));
  } finally {
    await frames.close();
  }
}

/** The key frames' depths: files that are named like their frames. */
async function readKeys(dir: string, { names, count }: NamedFrames): Promise<DepthKey[]> {
  const files = (await readdir(dir)).filter((file) => /\.(png|tiff?|exr|pfm)$/i.test(file)).sort();
  const keys: DepthKey[] = [];
  for (const file of files) {
    const frame = names.indexOf(basename(file, extname(file)));
    if (frame < 0)
      throw new CoreError(
        'no-such-frame',
        `${file} is named like none of the ${count} frames, which go from ${names[0]} to ${names[count - 1]}.`,
      );
    keys.push({ frame, depth: await readDepthFile(join(dir, file), file, { whiteIsNear: true, mend: false }) });
  }
  return keys.sort((a, b) => a.frame - b.frame);
}
