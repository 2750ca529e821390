import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import yauzl, { type Entry, type ZipFile as ZipReader } from 'yauzl';
import { ZipFile } from 'yazl';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';

/**
 * Most that a zip may unpack to, bytes, and most files: as announced by its own list, which is checked while each file
 * is unpacked.
 */
const MOST_BYTES = 4_000_000_000;
const MOST_FILES = 600;

/** A fresh folder for work, gone when the work is done. */
export async function inFolder<T>(work: (dir: string) => Promise<T>): Promise<T> {
  const dir = join(cacheDir('incoming'), randomUUID());
  await mkdir(dir, { recursive: true });
  try {
    return await work(dir);
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

/**
 * Unpacks the files of a zip that `wanted` names into a folder, one after another, streamed. Names that would lead
 * elsewhere and
 * files that are larger than announced end it.
 * @throws Problem `bad-zip`, `too-large`, `disk-full`
 */
export async function unpackZip(
  path: string,
  fileName: string,
  dir: string,
  wanted: (name: string) => boolean,
): Promise<string[]> {
  const bad = (): Problem =>
    new Problem(
      422,
      'bad-zip',
      `${fileName} cannot be unpacked: the file is cut off, damaged, or holds names that lead out of it. Export or copy it again.`,
    );
  const zip = await promisify<string, yauzl.Options, ZipReader>(yauzl.open)(path, {
    lazyEntries: true,
    autoClose: false,
  }).catch(() => {
    throw bad();
  });
  const names: string[] = [];
  let total = 0;
  try {
    for (;;) {
      const entry = await nextEntry(zip).catch(() => {
        throw bad();
      });
      if (!entry) return names;
      const { fileName: name, uncompressedSize } = entry;
      if (name.endsWith('/') || !wanted(name)) continue;
      total += uncompressedSize;
      if (total > MOST_BYTES || names.push(name) > MOST_FILES)
        throw new Problem(
          413,
          'too-large',
          `${fileName} would unpack to more than ${MOST_BYTES / 1e6} MB or ${MOST_FILES} files. Nothing was brought in.`,
        );
      await mkdir(dirname(join(dir, name)), { recursive: true });
      const write = async (): Promise<void> =>
        pipeline(
          await promisify<Entry, Readable>(zip.openReadStream.bind(zip))(entry),
          createWriteStream(join(dir, name)),
        );
      await write().catch((error: unknown) => {
        throw (error as NodeJS.ErrnoException).code === 'ENOSPC'
          ? new Problem(
              507,
              'disk-full',
              `There is no room on the server’s disk to unpack ${fileName}. Free some space and try again.`,
            )
          : bad();
      });
    }
  } finally {
    zip.close();
  }
}

/** A zip whose files can be taken out one by one, in any order. */
export interface OpenZip {
  readonly files: readonly { readonly name: string; readonly bytes: number }[];
  /** Unpacks one file, streamed. @throws Problem `bad-zip` */
  take(name: string, to: string): Promise<void>;
  close(): void;
}

/** Opens a zip for reading at random. @throws Problem `bad-zip` */
export async function openZip(path: string, fileName: string): Promise<OpenZip> {
  const bad = (): Problem =>
    new Problem(
      422,
      'bad-zip',
      `${fileName} cannot be unpacked: the file is cut off or damaged. Export or copy it again.`,
    );
  const zip = await promisify<string, yauzl.Options, ZipReader>(yauzl.open)(path, {
    lazyEntries: true,
    autoClose: false,
  }).catch(() => {
    throw bad();
  });
  const entries = new Map<string, Entry>();
  try {
    for (let entry = await nextEntry(zip); entry; entry = await nextEntry(zip))
      if (!entry.fileName.endsWith('/')) entries.set(entry.fileName, entry);
  } catch {
    zip.close();
    throw bad();
  }
  return {
    files: [...entries].map(([name, { uncompressedSize: bytes }]) => ({ name, bytes })),
    take: async (name, to) => {
      const entry = entries.get(name);
      if (!entry) throw bad();
      await promisify<Entry, Readable>(zip.openReadStream.bind(zip))(entry)
        .then((stream) => pipeline(stream, createWriteStream(to)))
        .catch(() => {
          throw bad();
        });
    },
    close: () => {
      zip.close();
    },
  };
}

/** The next entry of a zip; undefined at its end. */
function nextEntry(zip: ZipReader): Promise<Entry | undefined> {
  return new Promise((resolve, reject) => {
    const done = (work: () => void): void => {
      zip.removeAllListeners('entry').removeAllListeners('end').removeAllListeners('error');
      work();
    };
    zip
      .once('entry', (entry: Entry) => {
        done(() => {
          resolve(entry);
        });
      })
      .once('end', () => {
        done(() => {
          resolve(undefined);
        });
      })
      .once('error', (error) => {
        done(() => {
          reject(error as Error);
        });
      });
    zip.readEntry();
  });
}

/**
 * A zip of a folder's files as a stream; pictures are stored as they are. The folder is removed when the stream ends
 * or is given up.
 */
export function zipFolder(
  dir: string,
  names: readonly { readonly name: string; readonly from: string; readonly compress?: boolean }[],
): ReadableStream {
  const zip = new ZipFile();
  for (const { name, from, compress = false } of names) zip.addFile(join(dir, from), name, { compress });
  zip.end();
  const out = zip.outputStream as Readable;
  out.once('close', () => {
    void rm(dir, { recursive: true, force: true });
  });
  return Readable.toWeb(out) as ReadableStream;
}
