import { get } from 'node:http';
import { chromium, type Page } from '@playwright/test';
import { PLAIN_EDGE } from '@/core/matte/choice';
import { withHouse } from './house';
import { median, ms, row, section } from './report';

interface TraceEvent {
  readonly name: string;
  readonly cat: string;
  readonly ph: string;
  readonly ts: number;
  readonly id2?: { local?: string };
  readonly id?: string;
}

/** Lengths in ms of the measures of one name in a Chromium trace. */
function measures(trace: readonly TraceEvent[], name: string): number[] {
  const open = new Map<string, number>();
  const found: number[] = [];
  for (const e of trace) {
    if (e.name !== name || !e.cat.includes('blink.user_timing')) continue;
    const id = e.id2?.local ?? e.id ?? '';
    if (e.ph === 'b') open.set(id, e.ts);
    else if (e.ph === 'e' && open.has(id)) found.push((e.ts - open.get(id)!) / 1000);
  }
  return found;
}

/** Measures from an event at the hand to the first animation frame after the preview has drawn its answer. As text: a bundler's helpers do not reach into the page. */
const WATCH_HAND = `
  let since = 0, painted = '';
  const begin = (name, e) => { if (since === 0) { since = e.timeStamp; painted = name; } };
  document.addEventListener('keydown', (e) => begin('budget-painted', e), true);
  document.addEventListener('pointermove', (e) => { if (e.buttons === 1) begin(globalThis.benchFill ? 'clone-painted' : 'stroke-painted', e); }, true);
  const measure = performance.measure.bind(performance);
  performance.measure = (name, options) => {
    const entry = measure(name, options);
    if (since === 0 || name !== (painted === 'stroke-painted' ? 'stroke-shown' : 'look-shown') || entry.startTime < since) return entry;
    const start = since, what = painted;
    since = 0;
    requestAnimationFrame(() => measure(what, { start }));
    return entry;
  };`;

const bytesOf = (url: string): Promise<number> =>
  new Promise((done, failed) => {
    get(url, { headers: { 'accept-encoding': 'gzip' } }, (answer) => {
      let n = 0;
      answer.on('data', (d: Buffer) => {
        n += d.length;
      });
      answer.on('end', () => {
        done(n);
      });
    }).on('error', failed);
  });

/** Cuts a plate, opens the room anew and draws a clone stroke behind it, with the plate aside. */
async function cloneBehindPlate(page: Page, id: string): Promise<void> {
  await page.waitForSelector('[data-testid=stored][data-storing=stored]');
  const { shot } = (await (await page.request.get(`/api/shots/${id}`)).json()) as {
    shot: { head: number; document: { source: { width: number; height: number } } };
  };
  const { width, height } = shot.document.source;
  const points = [
    [0.1, 0.2],
    [0.45, 0.2],
    [0.45, 0.95],
    [0.1, 0.95],
  ].map(([u, v]) => ({ x: u * width, y: v * height }));
  const cut = await page.request.post(`/api/shots/${id}/plates`, {
    data: {
      expectedHead: shot.head,
      act: {
        action: 'cut',
        plate: null,
        name: 'Tree',
        spare: true,
        choice: { ingredients: [{ kind: 'outline', way: 'add', points }], edge: PLAIN_EDGE },
      },
    },
  });
  if (!cut.ok()) throw new Error(await cut.text());
  await page.reload();
  await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0);
  await page.evaluate(WATCH_HAND);
  await page.getByLabel('Stages').getByRole('button', { name: /^Fill/ }).click();
  await page.locator('.ct-left').getByRole('button', { name: 'Clone', exact: true }).click();
  await page.waitForTimeout(1500);
  const { x, y, width: w, height: h } = (await page.locator('.ct-viewer').boundingBox())!;
  await page.keyboard.down('Alt');
  await page.mouse.click(x + w * 0.75, y + h * 0.7);
  await page.keyboard.up('Alt');
  await page.keyboard.down('v');
  await page.waitForTimeout(500);
  await page.mouse.move(x + w * 0.2, y + h * 0.5);
  await page.evaluate('globalThis.benchFill = true');
  await page.mouse.down();
  for (let n = 0; n < 50; n++) {
    await page.mouse.move(x + w * (0.2 + 0.002 * n), y + h * (0.5 + 0.05 * Math.sin(n / 8)));
    await page.waitForTimeout(20);
  }
  await page.mouse.up();
  await page.keyboard.up('v');
}

/** The room in headless Chromium: what a hand waits for, first paint, and what the page weighs. */
export async function benchRoom(): Promise<void> {
  await withHouse(async (address) => {
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-dev-shm-usage',
        '--disable-background-networking',
        '--disable-component-update',
        '--no-first-run',
      ],
    });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: address });
    await page.goto('/');
    const path = await page.getByLabel('Open Orangery').getAttribute('href');
    const html = await (await page.request.get(path!)).text();
    const scripts = [...new Set([...html.matchAll(/<script[^>]+src="([^"]+)"/g)].map((m) => m[1]))];
    let script = 0;
    for (const s of scripts) script += await bytesOf(new URL(s, address).toString());
    const paints: number[] = [];
    for (let n = 0; n < 4; n++) {
      await page.goto(path!);
      await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0);
      paints.push(
        await page.evaluate(() => {
          const [first] = performance.getEntriesByName('look-shown');
          return first.startTime + first.duration;
        }),
      );
    }
    await page.evaluate(WATCH_HAND);
    await browser.startTracing(page, { categories: ['blink.user_timing'] });
    await page.locator('.ct-screen-tag').focus();
    for (let n = 0; n < 30; n++) {
      await page.keyboard.press(n % 2 ? 'ArrowUp' : 'ArrowDown');
      await page.waitForTimeout(150);
    }
    await page
      .getByLabel('Stages')
      .getByRole('button', { name: /^Depth/ })
      .click();
    await page.waitForTimeout(500);
    const box = (await page.locator('.ct-viewer').boundingBox())!;
    await page.mouse.move(box.x + 200, box.y + 200);
    await page.mouse.down();
    for (let n = 0; n < 60; n++) {
      await page.mouse.move(box.x + 200 + n * 5, box.y + 200 + 60 * Math.sin(n / 8));
      await page.waitForTimeout(20);
    }
    await page.mouse.up();
    await cloneBehindPlate(page, /shots\/([0-9a-f-]+)/.exec(path!)![1]);
    const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
    await browser.close();
    const budget = measures(traceEvents, 'budget-painted');
    const stroke = measures(traceEvents, 'stroke-painted');
    const clone = measures(traceEvents, 'clone-painted');
    if (budget.length < 10 || stroke.length < 10 || clone.length < 10)
      throw new Error(
        `The trace holds only ${budget.length} budget changes, ${stroke.length} pieces of a stroke and ${clone.length} of a clone.`,
      );
    section(
      'The room in headless Chromium, both eyes of the demo shot (1280 x 800 preview), from a trace',
      `${budget.length} budget changes, ${stroke.length} pieces of a stroke; from the event at the hand to the frame that shows it`,
    );
    row('budget change to glasses, median', ms(median(budget)), { text: 'within 100 ms', met: median(budget) <= 100 });
    row('  slowest', ms(Math.max(...budget)));
    row('brush over depth over picture, median', ms(median(stroke)), {
      text: 'within 33 ms',
      met: median(stroke) <= 33,
    });
    row('  slowest', ms(Math.max(...stroke)));
    row('clone behind a plate, median', ms(median(clone)), { text: 'within 33 ms', met: median(clone) <= 33 });
    row('  slowest', ms(Math.max(...clone)));
    row('first useful paint of the room, first visit', ms(paints[0]), { text: 'under 2 s', met: paints[0] < 2000 });
    row('  median of later ones', ms(median(paints.slice(1))));
    row('script of the shot page before the room, gzip', `${(script / 1000).toFixed(0)} KB`, {
      text: 'under 400 KB',
      met: script < 400_000,
    });
  });
}
