import { seedDemo } from '@/demo/seed';
import { migrate, openOrm } from './orm';

// Run by bin/start before the server: tables up to date, demo in place.

async function main(): Promise<void> {
  await migrate();
  if (await seedDemo(process.cwd())) console.log('demo project set up');
  await (await openOrm()).close();
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
