import { rm } from 'node:fs/promises';
import { seedDemo } from '@/demo/seed';
import { cacheDir } from '../config';
import { migrate, openOrm } from './orm';

// Run by bin/start before the server: tables up to date, demo in place, and nothing left of files that were on their
// way when a server was killed.

async function main(): Promise<void> {
  for (const folder of ['incoming', 'outgoing']) await rm(cacheDir(folder), { recursive: true, force: true });
  await migrate();
  if (await seedDemo(process.cwd())) console.log('demo project set up');
  await (await openOrm()).close();
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
