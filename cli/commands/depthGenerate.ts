import { cuesSchema } from '@/core/depth/start/cues';
import { Start } from '@/core/depth/start/generateStart';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { toEightBits } from '@/core/raster/picture';
import { writeDepthFile } from '@/server/media/depthFile';
import { runNetwork } from '@/server/network/runNetwork';
import { readPicture } from '../pictures';
import { needed, readWords, WrongWords } from '../words';

/** A start of a depth map from what can be read off one picture, or what a network of the user's own makes of it. */
export async function depthGenerate(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    picture: { type: 'string' },
    out: { type: 'string' },
    cues: { type: 'string' },
    network: { type: 'string' },
  });
  const picturePath = needed('picture', given.picture);
  const out = needed('out', given.out);
  const cues = cuesOf(given.cues ?? '{}');
  const picture = toEightBits((await readPicture(picturePath)).picture);
  const depth =
    given.network === undefined
      ? toDepthMap(picture, new Start(picture).depth(cues))
      : await runNetwork(given.network, picture, { edges: cues.edges });
  await writeDepthFile(out, depth);
}

function cuesOf(json: string) {
  let given: unknown;
  try {
    given = JSON.parse(json);
  } catch {
    throw new WrongWords(`--cues takes JSON, as '{"shape": "ground"}'; '${json}' is none.`);
  }
  const read = cuesSchema.safeParse(given);
  if (read.success) return read.data;
  const [first] = read.error.issues;
  throw new WrongWords(`--cues: ${first.path.join('.') || 'all of it'}: ${first.message}.`);
}
