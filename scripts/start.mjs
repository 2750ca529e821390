#!/usr/bin/env node
// Runs the database, the web server and render workers (one, or half as many as there are cores, at most four;
// --workers N), starts again what falls over, and stops all on Ctrl-C.
// Called by bin/start.
import { spawn, spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { Cluster, freePort, requireDisk, StartError } from './cluster.mjs';

process.chdir(join(dirname(fileURLToPath(import.meta.url)), '..'));
const data = resolve(process.env.CORK_DATA ?? '.data');
const began = Date.now();
const say = (text) => console.log(`Cork Twin: ${text}`);
const given = process.argv.indexOf('--port');
const port = Number(given > 0 ? process.argv[given + 1] : (process.env.CORK_PORT ?? 4310));
const asked = process.argv.indexOf('--workers');
const usual = Math.min(4, Math.max(1, Math.floor(availableParallelism() / 2)));
const wanted = asked > 0 ? process.argv[asked + 1] : (process.env.CORK_WORKERS ?? usual);
const workers = Number(wanted);
const MARK = `CORK_RUN=${data}`;
/**
 * Idle connections stay open longer than any client keeps one: one that the server closes while a client sends on it
 * is an error there.
 */
const KEEP_ALIVE_MS = 900_000;
const children = new Map();
let stopping = false;

/**
 * Servers and workers of an earlier start that was killed: found by a mark in their environment, ended, and waited
 * for, since they hold
 * the port. A process that dies loses its environment before its sockets: only a port that can be taken shows that it
 * is gone.
 */
async function endLeftovers() {
  const left = () =>
    readdirSync('/proc')
      .filter((p) => /^\d+$/.test(p))
      .map(Number)
      .filter((pid) => {
        try {
          return pid !== process.pid && readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0').includes(MARK);
        } catch {
          return false;
        } // gone, or not ours
      });
  const found = left();
  for (const pid of found) {
    try {
      process.kill(pid, 'SIGKILL');
    } catch {
      /* gone */
    }
  }
  for (let waited = 0; waited < 5000 && left().length > 0; waited += 50) await sleep(50);
  for (let waited = 0; found.length > 0 && waited < 5000 && (await freePort(port)) !== port; waited += 50)
    await sleep(50);
}

function run(name, args, env) {
  const child = spawn(process.execPath, args, { env, stdio: ['ignore', 'inherit', 'inherit'], detached: true });
  const since = Date.now();
  children.set(name, child);
  child.on('exit', async (code, signal) => {
    if (stopping) return;
    say(`the ${name} ended (${signal ?? code}); starting it again`);
    await sleep(Date.now() - since < 5000 ? 2000 : 100);
    if (!stopping) run(name, args, env);
  });
}

async function main() {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new StartError(`--port takes a whole number from 1 to 65535, not ${process.argv[given + 1]}.`);
  if (!Number.isInteger(workers) || workers < 1 || workers > 64)
    throw new StartError(`--workers takes a whole number from 1 to 64, not ${wanted}.`);
  await endLeftovers();
  requireDisk(data);
  if ((await freePort(port)) !== port)
    throw new StartError(
      `port ${port} is taken by another program. Start with another one: bin/start --port ${port + 1}`,
    );
  const cluster = new Cluster(data);
  cluster.make();
  await cluster.start();
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    say('stopping');
    for (const child of children.values()) {
      try {
        process.kill(child.pid, 'SIGTERM');
      } catch {
        /* gone */
      }
    }
    const deadline = Date.now() + 6000;
    while ([...children.values()].some((c) => c.exitCode === null && c.signalCode === null) && Date.now() < deadline)
      await sleep(50);
    for (const child of children.values()) {
      try {
        process.kill(child.pid, 'SIGKILL');
      } catch {
        /* gone */
      }
    }
    await cluster.stop();
    rmSync(join(data, 'address'), { force: true });
    process.exit(process.exitCode ?? 0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('SIGHUP', stop);
  const env = {
    ...process.env,
    NODE_ENV: 'production',
    CORK_DATABASE_URL: cluster.url(),
    CORK_CACHE_DIR: join(data, 'cache'),
    CORK_NETWORKS: process.env.CORK_NETWORKS ?? join(data, 'networks'),
    CORK_PORT: String(port),
    CORK_RUN: data,
  };
  const prepared = spawnSync(process.execPath, ['--enable-source-maps', '.build/prepare.mjs'], {
    env,
    stdio: 'inherit',
  });
  if (prepared.status !== 0) {
    process.exitCode = 1;
    say('the tables could not be prepared; the messages above say why.');
    return stop();
  }
  cluster.onExit = async () => {
    if (stopping) return;
    say('the database ended; starting it again');
    await sleep(300);
    await cluster.launch().catch((error) => {
      say(error.message);
    });
  };
  run(
    'web server',
    [
      'node_modules/next/dist/bin/next',
      'start',
      '-H',
      '127.0.0.1',
      '-p',
      String(port),
      '--keepAliveTimeout',
      String(KEEP_ALIVE_MS),
    ],
    env,
  );
  for (let n = 1; n <= workers; n++)
    run(n === 1 ? 'render worker' : `render worker ${n}`, ['--enable-source-maps', '.build/worker.mjs'], env);
  const address = `http://127.0.0.1:${port}`;
  for (let waited = 0; waited < 60_000; waited += 100) {
    const ok = await fetch(`${address}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    if (ok) {
      writeFileSync(join(data, 'address'), address);
      writeFileSync(join(data, 'database'), cluster.url(), { mode: 0o600 });
      say(`ready after ${((Date.now() - began) / 1000).toFixed(1)} s at ${address}`);
      return;
    }
    await sleep(100);
  }
  process.exitCode = 1;
  say('the web server did not answer within a minute');
  await stop();
}

main().catch((error) => {
  if (error instanceof StartError) console.error(`Cork Twin: ${error.message}`);
  else console.error(error);
  process.exit(1);
});
