import { randomUUID } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';

/**
 * A database of its own for one test file, migrated and empty, in the PostgreSQL that bin/test starts; and a cache folder.
 * Without a database these suites fail instead of looking green.
 */
export async function houseOfTest(): Promise<{ end(): Promise<void> }> {
  const server = process.env.CORK_TEST_DATABASE_URL;
  if (!server)
    throw new Error(
      'CORK_TEST_DATABASE_URL is not set: run these tests through bin/test, which starts a PostgreSQL for them.',
    );
  const name = `cork_${randomUUID().replaceAll('-', '')}`;
  const admin = new Client({ connectionString: server });
  await admin.connect();
  await admin.query(`create database ${name}`);
  const url = new URL(server);
  url.pathname = `/${name}`;
  process.env.CORK_DATABASE_URL = url.toString();
  process.env.CORK_CACHE_DIR = mkdtempSync(join(tmpdir(), 'cork-cache-'));
  const { migrate, openOrm } = await import('@/server/db/orm');
  await migrate();
  return {
    async end() {
      const { endThreads } = await import('@/server/threads/pool');
      await endThreads();
      await (await openOrm()).close(true);
      await admin.query(`drop database ${name} with (force)`);
      await admin.end();
    },
  };
}
