import { spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const ROOT = join(__dirname, '../..');
export const OPENCV = '/usr/share/doc/opencv-doc/examples/data';

/** Runs bin/cork-twin as somebody would. */
export function corkTwin(...words: string[]): { status: number | null; out: string; err: string } {
  const run = spawnSync('bash', [join(ROOT, 'bin/cork-twin'), ...words], {
    encoding: 'utf8',
    cwd: ROOT,
    env: { ...process.env },
    maxBuffer: 1 << 28,
  });
  return { status: run.status, out: run.stdout, err: run.stderr };
}

export const scratch = (): string => mkdtempSync(join(tmpdir(), 'cork-test-'));
