/** What Next.js runs when the server starts. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { wakeThreads } = await import('./server/threads/pool');
  // Without a database the first stroke wakes them, and says so.
  void wakeThreads().catch(() => undefined);
}
