#!/usr/bin/env node
// Adds the optional platform packages that `npm install` leaves out of package-lock.json where the registry does not carry
// them, so that `npm ci` takes the lock. Run by hand after every install that changes the lock.
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const path = fileURLToPath(new URL('../package-lock.json', import.meta.url));
const lock = JSON.parse(readFileSync(path, 'utf8'));
const { packages } = lock;

/** Node's own search: the package beside or above the one that asks. */
function resolves(from, name) {
  for (let at = from; ; at = at.includes('/node_modules/') ? at.slice(0, at.lastIndexOf('/node_modules/')) : '') {
    if (packages[`${at}${at ? '/' : ''}node_modules/${name}`]) return true;
    if (at === '') return false;
  }
}

let added = 0;
for (const [at, entry] of Object.entries({ ...packages })) {
  for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
    if (resolves(at, name)) continue;
    // No machine has this platform, so nothing is ever fetched.
    packages[`node_modules/${name}`] = { version, optional: true, os: ['none'], cpu: ['none'] };
    added++;
  }
}
lock.packages = Object.fromEntries(Object.entries(packages).sort(([a], [b]) => (a < b ? -1 : 1)));
writeFileSync(path, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${added} platform packages added`);
