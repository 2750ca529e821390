import { execFileSync } from 'node:child_process';

/** Runs a Python program with Debian's OpenCV and gives back what it prints. Outside checks compare against it. */
export function python(program: string, args: readonly string[] = []): string {
  return execFileSync('/usr/bin/python3', ['-c', program, ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
}
