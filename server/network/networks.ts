import { mkdir, readdir, readFile, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { SIDECAR_EXAMPLE, sidecarSchema, type Sidecar } from '@/core/depth/network/sidecar';
import { networksDir } from '../config';
import { Problem } from '../http/problem';

/** Larger files do not fit the memory that a network may take. */
const MOST_BYTES = 1_500_000_000;

/** A depth network of the user's own: a file of the folder of networks, and what stands in its way. */
export interface NetworkFile {
  readonly name: string;
  /** Why it cannot be used; null where nothing is known against it before it is run. */
  readonly trouble: string | null;
}

/** The networks in the folder, by name. */
export async function listNetworks(): Promise<NetworkFile[]> {
  const dir = networksDir();
  await mkdir(dir, { recursive: true });
  const names = (await readdir(dir)).filter((n) => n.toLowerCase().endsWith('.onnx')).sort();
  return Promise.all(
    names.map(async (name) => {
      try {
        await readSidecar(join(dir, name));
        return { name, trouble: null };
      } catch (error) {
        return { name, trouble: (error as Error).message };
      }
    }),
  );
}

/** A network of the folder by its name. @throws Problem `not-found` */
export async function networkPath(name: string): Promise<string> {
  const path = resolve(networksDir(), name);
  // A name is a file of this folder, never a way out of it.
  if (basename(name) !== name || !(await stat(path).catch(() => undefined))?.isFile())
    throw Problem.notFound(`The depth network ${basename(name)}`);
  return path;
}

/** What the file beside a network says of it. @throws Problem `no-sidecar`, `wrong-sidecar`, `network-large` */
export async function readSidecar(path: string): Promise<Sidecar> {
  const name = basename(path);
  if (!/\.onnx$/i.test(name))
    throw new Problem(422, 'no-sidecar', `${name} does not end in .onnx, so nothing is known of what lies beside it.`);
  const beside = path.replace(/\.onnx$/i, '.json');
  const sideName = basename(beside);
  const { size } = await stat(path).catch(() => {
    throw Problem.notFound(`The depth network ${name}`);
  });
  if (size > MOST_BYTES)
    throw new Problem(
      422,
      'network-large',
      `${name} has ${Math.round(size / 1e6)} MB; at most ${MOST_BYTES / 1e6} MB fit. ` +
        `A smaller or quantised one of its kind will do.`,
    );
  const text = await readFile(beside, 'utf8').catch(() => undefined);
  if (text === undefined)
    throw new Problem(
      422,
      'no-sidecar',
      `${name} has no ${sideName} beside it that says how a picture is put in. ` +
        `It begins as ${SIDECAR_EXAMPLE}; docs/formats.md names the rest.`,
    );
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Problem(422, 'wrong-sidecar', `${sideName} beside ${name} is no JSON. It begins as ${SIDECAR_EXAMPLE}.`);
  }
  const read = sidecarSchema.safeParse(json);
  if (read.success) return read.data;
  const [{ path: where, message }] = read.error.issues;
  throw new Problem(422, 'wrong-sidecar', `${sideName} beside ${name}: ${where.join('.') || 'all of it'}: ${message}.`);
}
