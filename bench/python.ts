import { spawnSync } from 'node:child_process';

/** Runs a Python program with Debian's OpenCV on one core and reads the JSON that it prints last. */
export function pythonJson<T>(program: string, args: readonly string[] = []): T {
  const ran = spawnSync('taskset', ['-c', '1', '/usr/bin/python3', '-c', program, ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    cwd: __dirname,
  });
  if (ran.status !== 0)
    throw new Error(
      `Python ended with ${ran.status}: ${ran.stderr.slice(-800)} (Debian's python3-opencv and opencv-doc are needed; bin/test installs them)`,
    );
  return JSON.parse(ran.stdout.trim().split('\n').pop() ?? '') as T;
}
