import { readdir } from 'node:fs/promises';
import { keyAt } from '@/core/shot/atMoment';
import {
  behindHashes,
  behindName,
  carriedName,
  depthFrom,
  filledName,
  hidingPlates,
  plateName,
} from '@/core/shot/carriedNames';
import { plateKeyAt } from '@/core/shot/plateAtMoment';
import type { DepthKeyPart, Plate } from '@/core/shot/document';
import { cacheDir } from '../config';
import { proxyState } from '../media/footage/proxies';
import { carriedNamesIn, carriedTrust } from './carriedRasters';
import { footageOf } from './footageOf';
import { shotState } from './history';

/** Trust of every frame, 0 to 1: keys 1; null where nothing is carried yet. */
type Trust = readonly (number | null)[];

/** What is known of a shot's frames beside its document. */
export interface FootageState {
  readonly proxies: Awaited<ReturnType<typeof proxyState>>;
  /** Of depth. */
  readonly trust: Trust;
  /** The keys that it is carried from. */
  readonly keys: readonly Pick<DepthKeyPart, 'frame' | 'revision'>[];
  /** Plates that are carried, and the keys that they are carried from. */
  readonly plates: readonly (Pick<Plate, 'id' | 'keys'> & { readonly trust: Trust })[];
  /**
   * What lies behind plates, by what it is called: in which frames its depth and its colours are there, and how much of
   * what was hidden other frames show.
   */
  readonly behind: {
    readonly depth: { readonly hash: string; readonly there: readonly boolean[] };
    readonly colours: { readonly hash: string; readonly there: readonly boolean[] };
    readonly seen: Trust;
  };
}

const trusts = new Map<string, number>();

export async function footageState(id: string): Promise<FootageState> {
  const { document } = await shotState(id);
  const { source, footage } = footageOf({ document });
  const { mediaId } = source;
  const there = carriedNamesIn(await readdir(cacheDir('carried')));
  const known = async (name: string): Promise<number | null> => {
    if (!there(name)) return null;
    const trust = trusts.get(name) ?? (await carriedTrust(name));
    if (trust !== null) trusts.set(name, trust);
    return trust;
  };
  const frames = Array.from({ length: footage.frames }, (_, frame) => frame);
  const trustOf = (keyed: (frame: number) => boolean, nameOf: (frame: number) => string): Promise<Trust> =>
    Promise.all(frames.map((frame) => (keyed(frame) ? Promise.resolve(1) : known(nameOf(frame)))));
  const hashes = behindHashes(document);
  const behind = (frame: number): string => behindName(mediaId, hashes.depth, frame);
  const filled = (frame: number): string => filledName(mediaId, hashes.colours, frame);
  return {
    proxies: await proxyState(source),
    trust: await trustOf(
      (frame) => keyAt(footage, frame) !== undefined,
      (frame) => carriedName(mediaId, depthFrom(document), frame),
    ),
    keys: footage.keys.map(({ frame, revision }) => ({ frame, revision })),
    plates: await Promise.all(
      hidingPlates(document.plates).map(async (plate) => ({
        id: plate.id,
        keys: plate.keys,
        trust: await trustOf(
          (frame) => plateKeyAt(plate, frame) !== undefined,
          (frame) => plateName(mediaId, plate, frame),
        ),
      })),
    ),
    behind: {
      depth: { hash: hashes.depth, there: frames.map((frame) => there(behind(frame))) },
      colours: { hash: hashes.colours, there: frames.map((frame) => there(filled(frame))) },
      seen: await trustOf(() => false, behind),
    },
  };
}
