/** Prints one section of the benchmark: rows of name and value, ratios beside what was asked for. */
export function section(title: string, ...notes: string[]): void {
  console.log(`\n${title}`);
  for (const note of notes) console.log(`  ${note}`);
}

export function row(name: string, value: string, wanted?: { readonly text: string; readonly met: boolean }): void {
  console.log(
    `  ${name.padEnd(54)} ${value.padStart(12)}${wanted ? `   ${wanted.met ? 'met   ' : 'MISSED'} (${wanted.text})` : ''}`,
  );
}

export const ms = (v: number): string => `${v.toFixed(v < 10 ? 2 : 1)} ms`;
export const times = (v: number): string => `${v.toFixed(v < 10 ? 2 : 1)} x`;

/**
 * Least CPU time of one call, ms, over `runs` calls: other load on the machine, and the compiler at work during the
 * first, matter little.
 */
export function cpuMs(work: () => unknown, runs = 30): number {
  let best = Infinity;
  for (let n = 0; n < runs; n++) {
    const before = process.cpuUsage();
    work();
    const { user, system } = process.cpuUsage(before);
    best = Math.min(best, (user + system) / 1000);
  }
  return best;
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
}
