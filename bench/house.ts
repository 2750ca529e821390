import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

const root = join(__dirname, '..');
const data = join(root, '.data/bench');

/** The house as bin/start starts it, with the demo, in a folder of its own that is gone afterwards. */
export async function withHouse(work: (address: string, pid: number) => Promise<void>): Promise<void> {
  rmSync(data, { recursive: true, force: true });
  mkdirSync(data, { recursive: true });
  const house = spawn('bash', [join(root, 'bin/start'), '--port', '4396'], {
    cwd: root,
    stdio: 'ignore',
    env: { ...process.env, CORK_DATA: data },
    detached: true,
  });
  const end = (): void => {
    try {
      process.kill(-house.pid!, 'SIGINT');
    } catch {
      /* gone */
    }
  };
  // Also where the measuring breaks down: a house that is left behind holds the port.
  process.once('exit', end);
  try {
    for (let n = 0; n < 1500 && !existsSync(join(data, 'address')); n++) await sleep(200);
    await work(readFileSync(join(data, 'address'), 'utf8').trim(), house.pid!);
  } finally {
    end();
    for (let n = 0; n < 100 && house.exitCode === null; n++) await sleep(100);
    rmSync(data, { recursive: true, force: true });
  }
}

/** What a server answered, as JSON. @throws Error with what it said where it refuses */
export async function ask<T>(url: string, body?: unknown): Promise<T> {
  const answer = await fetch(url, {
    ...(body === undefined
      ? {}
      : { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  const text = await answer.text();
  if (!answer.ok) throw new Error(`${url}: ${answer.status} ${text}`);
  return JSON.parse(text) as T;
}

/** Brings a picture in. @returns the shot's id */
export async function bringIn(address: string, project: string, name: string, file: Buffer): Promise<string> {
  const answer = await fetch(`${address}/api/projects/${project}/shots`, {
    method: 'POST',
    body: new Uint8Array(file),
    headers: { 'x-file-name': encodeURIComponent(name), 'content-type': 'application/octet-stream' },
  });
  if (!answer.ok) throw new Error(`${name}: ${answer.status} ${await answer.text()}`);
  return ((await answer.json()) as { id: string }).id;
}
