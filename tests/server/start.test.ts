import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT, scratch } from '../support/cli';

// bin/start itself, in a folder of its own beside the house of the tests.

const data = join(scratch(), 'house');
const address = join(data, 'address');

function start(port: number): { process: ChildProcess; said(): string } {
  let text = '';
  const child = spawn('bash', ['bin/start', '--port', String(port)], {
    cwd: ROOT,
    env: { ...process.env, CORK_DATA: data, CORK_DATABASE_URL: '' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const hear = (d: Buffer): void => {
    text += d.toString();
  };
  child.stdout.on('data', hear);
  child.stderr.on('data', hear);
  return { process: child, said: () => text };
}

/** Waits for what comes sooner or later; the limit ends what hangs, on however slow a machine. */
async function until(what: () => boolean): Promise<boolean> {
  for (let n = 0; n < 6000; n++) {
    if (what()) return true;
    await sleep(100);
  }
  return what();
}

/** Everything that a start has left running, by the mark in its environment. */
const running = (): number =>
  readdirSync('/proc')
    .filter((p) => /^\d+$/.test(p))
    .filter((p) => {
      try {
        return readFileSync(`/proc/${p}/environ`, 'utf8').split('\0').includes(`CORK_RUN=${data}`);
      } catch {
        return false;
      }
    }).length;

afterAll(() => {
  rmSync(data, { recursive: true, force: true });
});

test('a start that was killed is repaired by the next one, which keeps the data; a second start at once is refused; Ctrl-C ends everything', async () => {
  const first = start(4471);
  expect(await until(() => /ready after/.test(first.said()))).toBe(true);
  const projects = async (): Promise<string> => (await fetch('http://127.0.0.1:4471/api/projects')).text();
  const before = await projects();
  const second = start(4472);
  expect(await until(() => second.process.exitCode !== null)).toBe(true);
  expect(second.said()).toContain('already running from this folder at http://127.0.0.1:4471');
  expect(second.process.exitCode).toBe(1);

  first.process.kill('SIGKILL');
  expect(await until(() => first.process.signalCode !== null)).toBe(true);
  const next = start(4471);
  expect(await until(() => /ready after/.test(next.said()))).toBe(true);
  expect(Number(/ready after ([\d.]+) s/.exec(next.said())![1])).toBeGreaterThan(0);
  expect(await projects()).toBe(before);

  next.process.kill('SIGINT');
  expect(await until(() => next.process.exitCode !== null)).toBe(true);
  expect(next.process.exitCode).toBe(0);
  expect(await until(() => running() === 0)).toBe(true);
  expect(existsSync(address)).toBe(false);
});
