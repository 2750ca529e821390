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

/**
 * Measures from an event at the hand to the first animation frame after the preview has drawn its answer. As text: a
 * bundler's helpers do not reach into the page.
 */
const WATCH_HAND = `
  let since = 0, painted = '';
  const begin = (name, e) => { if (since === 0) { since = e.timeStamp; painted = name; } };
  document.addEventListener('keydown', (e) => begin(globalThis.benchTool + '-painted', e), true);
  document.addEventListener('pointermove', (e) => { if (e.buttons === 1) begin(globalThis.benchTool + '-painted', e); }, true);
  const measure = performance.measure.bind(performance);
  performance.measure = (name, options) => {
    const entry = measure(name, options);
    if (since === 0 || name !== (painted.startsWith('stroke') ? 'stroke-shown' : 'look-shown') || entry.startTime < since) return entry;
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

/** What the hand is measured at: of each the name of its measure. */
type Tool = 'budget' | 'stroke' | 'budget with plates' | 'stroke with plates' | 'clone';
const holds = (page: Page, tool: Tool): Promise<unknown> => page.evaluate(`globalThis.benchTool = '${tool}'`);

/** Three outlines, shares of the picture: the tree, the table, the hanging basket. */
const PLATES = [
  [0.1, 0.2, 0.45, 0.95],
  [0.6, 0.4, 1, 0.85],
  [0.42, 0.02, 0.56, 0.25],
] as const;

interface Shot {
  readonly head: number;
  readonly document: { readonly source: { readonly width: number; readonly height: number } };
}

/** Cuts three plates. */
async function cutPlates(page: Page, id: string): Promise<void> {
  await page.waitForSelector('[data-testid=stored][data-storing=stored]');
  let { shot } = (await (await page.request.get(`/api/shots/${id}`)).json()) as { shot: Shot };
  const { width, height } = shot.document.source;
  for (const [left, top, right, bottom] of PLATES) {
    const points = [
      { x: left * width, y: top * height },
      { x: right * width, y: top * height },
      { x: right * width, y: bottom * height },
      { x: left * width, y: bottom * height },
    ];
    const choice = { ingredients: [{ kind: 'outline', way: 'add', points }], edge: PLAIN_EDGE };
    const act = { action: 'cut', plate: null, name: `Plate ${left}`, spare: true, choice };
    const cut = await page.request.post(`/api/shots/${id}/plates`, { data: { expectedHead: shot.head, act } });
    if (!cut.ok()) throw new Error(await cut.text());
    shot = (await cut.json()) as Shot;
  }
}

/** Opens the room anew, in its first stage. */
async function reopen(page: Page): Promise<void> {
  await page.reload();
  await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0);
  await page.evaluate(WATCH_HAND);
}

/** Moves the screen plane thirty times by the keys, then paints depth. */
async function turnAndPaint(page: Page, budget: Tool, stroke: Tool): Promise<void> {
  const stages = page.getByLabel('Stages');
  await holds(page, budget);
  await page.locator('.ct-screen-tag').focus();
  for (let n = 0; n < 30; n++) {
    await page.keyboard.press(n % 2 ? 'ArrowUp' : 'ArrowDown');
    await page.waitForTimeout(150);
  }
  await stages.getByRole('button', { name: /^Depth/ }).click();
  await page.waitForTimeout(500);
  await holds(page, stroke);
  const box = (await page.locator('.ct-viewer').boundingBox())!;
  await page.mouse.move(box.x + 200, box.y + 200);
  await page.mouse.down();
  for (let n = 0; n < 60; n++) {
    await page.mouse.move(box.x + 200 + n * 5, box.y + 200 + 60 * Math.sin(n / 8));
    await page.waitForTimeout(20);
  }
  await page.mouse.up();
}

/** Draws a clone stroke behind a plate, with the plate aside. */
async function cloneBehindPlate(page: Page): Promise<void> {
  await page.getByLabel('Stages').getByRole('button', { name: /^Fill/ }).click();
  await page.locator('.ct-left').getByRole('button', { name: 'Clone', exact: true }).click();
  await page.waitForTimeout(1500);
  const { x, y, width: w, height: h } = (await page.locator('.ct-viewer').boundingBox())!;
  await page.keyboard.down('Alt');
  await page.mouse.click(x + w * 0.75, y + h * 0.9);
  await page.keyboard.up('Alt');
  await page.keyboard.down('v');
  await page.waitForTimeout(500);
  await page.mouse.move(x + w * 0.2, y + h * 0.5);
  await holds(page, 'clone');
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
    // The demo as it came: its plates and its drift taken back.
    const api = `/api${path!}`;
    const { shot } = (await (await page.request.get(api)).json()) as { shot: { head: number } };
    const step = { expectedHead: shot.head, changeId: crypto.randomUUID(), action: 'undo' };
    await page.request.post(`${api}/history`, { data: step });
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
    await turnAndPaint(page, 'budget', 'stroke');
    await cutPlates(page, /shots\/([0-9a-f-]+)/.exec(path!)![1]);
    await reopen(page);
    await turnAndPaint(page, 'budget with plates', 'stroke with plates');
    await page.waitForSelector('[data-testid=stored][data-storing=stored]');
    await reopen(page);
    await cloneBehindPlate(page);
    const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
    await browser.close();
    section(
      'The room in headless Chromium, both eyes of the demo shot (1280 x 800 preview), from a trace',
      'from the event at the hand to the frame that shows it',
    );
    const hand = (tool: Tool, label: string, most: number): void => {
      const found = measures(traceEvents, `${tool}-painted`);
      if (found.length < 10) throw new Error(`The trace holds only ${found.length} times of ${label}.`);
      row(`${label}, median of ${found.length}`, ms(median(found)), {
        text: `within ${most} ms`,
        met: median(found) <= most,
      });
      row('  slowest', ms(Math.max(...found)));
    };
    hand('budget', 'budget change to glasses', 60);
    hand('budget with plates', '  with three plates', 60);
    hand('stroke', 'brush over depth over picture', 20);
    hand('stroke with plates', '  with three plates', 20);
    hand('clone', 'clone behind a plate, three plates', 25);
    row('first useful paint of the room, first visit', ms(paints[0]), { text: 'under 1.2 s', met: paints[0] < 1200 });
    row('  median of later ones', ms(median(paints.slice(1))));
    row('script of the shot page before the room, gzip', `${(script / 1000).toFixed(0)} KB`, {
      text: 'under 400 KB',
      met: script < 400_000,
    });
  });
}
