#!/usr/bin/env node
// Runs all checks one after another and counts them. Called by bin/test.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from './cluster.mjs';

const data = resolve('.data/test');
let passed = 0;
let failed = 0;
const began = Date.now();
const seconds = () => `${((Date.now() - began) / 1000).toFixed(0)} s`;

function step(name, command, args, env = {}) {
  console.log(`\n== ${name} (${seconds()})`);
  return spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } }).status === 0;
}
const count = (ok) => {
  if (ok) passed++;
  else failed++;
};

// A house of its own: database, server and worker, thrown away before and after.
rmSync(data, { recursive: true, force: true });
mkdirSync(data, { recursive: true });
const port = await freePort(4398);
const log = openSync('.data/test-house.log', 'w');
const house = spawn('bash', ['bin/start', '--port', String(port)], {
  stdio: ['ignore', log, log],
  // One worker: its being killed is one of the walks.
  env: { ...process.env, CORK_DATA: data, CORK_WORKERS: '1' },
  detached: true,
});
// While the page is built, on the other core.
count(
  step('format', process.execPath, ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']),
);
count(step('lint', process.execPath, ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']));
count(step('types', process.execPath, ['node_modules/typescript/bin/tsc', '--noEmit']));
console.log(`\n== house for the tests (${seconds()})`);
for (let waited = 0; waited < 600_000 && house.exitCode === null && !existsSync(`${data}/address`); waited += 200)
  await sleep(200);
const up = existsSync(`${data}/address`);
count(up);
if (!up) console.log(readFileSync('.data/test-house.log', 'utf8').slice(-3000));
else {
  const reports = { jest: '.data/jest.json', playwright: '.data/playwright.json' };
  for (const file of Object.values(reports)) rmSync(file, { force: true });
  const env = {
    CORK_TEST_DATABASE_URL: readFileSync(`${data}/database`, 'utf8').trim(),
    CORK_TEST_ADDRESS: `http://127.0.0.1:${port}`,
    CORK_TEST_DATA: data,
    CORK_PLAYWRIGHT_JSON: reports.playwright,
  };
  step(
    'jest',
    process.execPath,
    ['node_modules/jest/bin/jest.js', '--ci', '--silent', '--json', `--outputFile=${reports.jest}`, '--maxWorkers=2'],
    env,
  );
  step('playwright', process.execPath, ['node_modules/@playwright/test/cli.js', 'test'], env);
  // A runner that did not get as far as its report counts as failed.
  const jest = existsSync(reports.jest) ? JSON.parse(readFileSync(reports.jest, 'utf8')) : undefined;
  passed += jest?.numPassedTests ?? 0;
  failed += jest ? jest.numFailedTests + jest.numRuntimeErrorTestSuites : 1;
  const pages = existsSync(reports.playwright) ? JSON.parse(readFileSync(reports.playwright, 'utf8')) : undefined;
  passed += pages?.stats.expected ?? 0;
  failed += pages ? pages.stats.unexpected + pages.stats.flaky + pages.errors.length : 1;
}
if (house.exitCode === null) {
  process.kill(house.pid, 'SIGINT');
  for (let waited = 0; waited < 20_000 && house.exitCode === null; waited += 100) await sleep(100);
}
try {
  process.kill(-house.pid, 'SIGKILL');
} catch {
  /* gone */
}
rmSync(data, { recursive: true, force: true });
console.log(`\nall checks in ${seconds()}\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
