#!/usr/bin/env node
// Takes the pictures in docs/screenshots from the demo of a running house: node scripts/screenshots.mjs [ADDRESS] [FOLDER]
// Renders a pair and an anaglyph where nothing was rendered yet, and changes nothing else. Look at each picture before committing it.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const [address = 'http://127.0.0.1:4310', folder = 'docs/screenshots'] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-background-networking', '--disable-component-update', '--no-first-run'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: address });

const shoot = async (name) => { await page.waitForTimeout(900); await page.screenshot({ path: join(folder, `${name}.png`) }); console.log(name); };
const stage = (name) => page.getByLabel('Stages').getByRole('button', { name: new RegExp(`^${name}`) }).click();
const way = (name) => page.getByLabel('Ways to see').getByRole('radio', { name, exact: true }).click();
const open = (name) => page.locator('.ct-left').getByRole('button', { name: new RegExp(`^${name}`) }).click();

await page.goto('/');
await page.waitForLoadState('networkidle');
await shoot('desk');
await page.getByLabel('Open Orangery').click();
await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0, undefined, { timeout: 60_000 });
await shoot('stereo');
await open('Edges');
await way('Right');
await page.keyboard.press('x');
await shoot('reveal');
await page.keyboard.press('x');
await stage('Depth');
const box = await page.locator('.ct-viewer').boundingBox();
await page.mouse.move(box.x + 300, box.y + 260);
await page.mouse.move(box.x + 302, box.y + 262);
await shoot('depth');
await stage('Output');
if ((await page.getByTestId('render').count()) === 0) {
  for (const packing of [undefined, 'Red-cyan, least squares']) {
    if (packing) { await page.getByLabel('As', { exact: true }).click(); await page.getByTitle(packing).click(); await page.waitForTimeout(600); }
    await page.getByRole('button', { name: packing ? 'Render' : 'Render left and right', exact: true }).click();
    await page.waitForFunction((n) => document.querySelectorAll('[data-testid=render][data-state=done]').length === n, packing ? 2 : 1, { timeout: 60_000 });
  }
}
await open('Lenticular sheet');
await page.mouse.move(600, 400);
await shoot('output');
await browser.close();
