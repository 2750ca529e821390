#!/usr/bin/env node
// Builds the page (Next.js) and bundles the render worker, the command line and the preparation of the database into
// .build/.
// Skips what is up to date: the stamp is a hash over every source file.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.chdir(root);
const onlyBundles = process.argv.includes('--bundles');

function hashOf(folders, files) {
  const hash = createHash('sha256');
  const walk = (dir) => {
    for (const entry of readdirSync(dir, { withFileTypes: true }).sort((a, b) => a.name.localeCompare(b.name))) {
      const path = join(dir, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(path));
    }
  };
  folders.filter(existsSync).forEach(walk);
  files.filter(existsSync).forEach((f) => hash.update(f).update(readFileSync(f)));
  return hash.digest('hex');
}

const upToDate = (stamp, hash) => existsSync(stamp) && readFileSync(stamp, 'utf8') === hash;
const shared = ['package-lock.json', 'tsconfig.json'];

const bundleHash = hashOf(['core', 'server', 'render-worker', 'cli', 'demo'], [...shared, 'scripts/build.mjs']);
if (!upToDate('.build/stamp', bundleHash)) {
  const { build } = await import('esbuild');
  mkdirSync('.build', { recursive: true });
  await build({
    entryPoints: {
      worker: 'render-worker/main.ts',
      pulse: 'render-worker/pulse.ts',
      cli: 'cli/main.ts',
      prepare: 'server/db/prepare.ts',
      threads: 'server/threads/index.ts',
      network: 'server/network/session.ts',
    },
    outdir: '.build',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '@': root },
    splitting: true,
    chunkNames: 'parts/[name]-[hash]',
    sourcemap: 'linked',
    logLevel: 'warning',
  });
  writeFileSync('.build/stamp', bundleHash);
}

if (!onlyBundles) {
  const pageHash = hashOf(
    ['app', 'studio', 'compute', 'core', 'server', 'public'],
    [...shared, 'instrumentation.ts', 'next.config.ts', 'proxy.ts'],
  );
  if (!upToDate('.next/cork-stamp', pageHash)) {
    console.log('Cork Twin: building the page (a minute or two)');
    const built = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
      encoding: 'utf8',
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    });
    if (built.status !== 0) {
      console.error(built.stdout, built.stderr);
      console.error('Cork Twin: the page could not be built; the messages above say why.');
      process.exit(1);
    }
    writeFileSync('.next/cork-stamp', pageHash);
  }
}
