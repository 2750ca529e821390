import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { chromium } from '@playwright/test';
import { ask, bringIn, withHouse } from './house';
import { enlarged } from './large';
import { median, ms, row, section } from './report';

/** Memory of the server and of a page in Chromium, MB: what is shared with other processes counts by its share (Pss). */
function memory(): number {
  const found = (args: readonly string[]): string[] => {
    try {
      return execFileSync('pgrep', args, { encoding: 'utf8' }).trim().split('\n');
    } catch {
      return [];
    }
  };
  const pids = [...found(['next-server']), ...found(['-f', 'chromium.*--type=renderer'])];
  let kb = 0;
  for (const pid of pids) {
    try {
      kb += Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0);
    } catch {
      /* ended meanwhile */
    }
  }
  return kb / 1024;
}

/** Opens a shot in a page of its own. @returns ms until the first picture is drawn, and the most memory meanwhile, MB */
async function open(address: string, shot: string): Promise<{ took: number; most: number }> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-dev-shm-usage', '--no-first-run'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const began = performance.now();
    let most = 0;
    let shown = false;
    const drawn = (async () => {
      await page.goto(`${address}/shots/${shot}`);
      await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0, undefined, {
        timeout: 0,
      });
      shown = true;
      return performance.now() - began;
    })();
    while (!shown) {
      most = Math.max(most, memory());
      await sleep(200);
    }
    return { took: await drawn, most: Math.max(most, memory()) };
  } finally {
    await browser.close();
  }
}

/** A shot of 98 MP opened. */
export async function benchHuge(): Promise<void> {
  await withHouse(async (address) => {
    const { id: project } = await ask<{ id: string }>(`${address}/api/projects`, { name: 'Huge' });
    const big = await bringIn(address, project, '98 MP.jpg', await enlarged(12_124, 8083));
    const opened = [];
    for (let n = 0; n < 3; n++) opened.push(await open(address, big));
    section('A shot of 98 MP opened in Chromium, until its first picture is drawn', '12124 x 8083 px; three visits');
    row('just brought in', ms(opened[0].took), {
      text: 'within 3 s',
      met: opened[0].took <= 3000,
    });
    row('  median of all', ms(median(opened.map(({ took }) => took))));
    const most = Math.max(...opened.map((o) => o.most));
    row('  most memory in page and server', `${most.toFixed(0)} MB`, { text: 'under 1024 MB', met: most < 1024 });
  });
}
