#!/usr/bin/env node
// Takes the pictures in docs/screenshots from the demo of a running house: node scripts/screenshots.mjs [ADDRESS]
// [FOLDER]
// Renders a pair and an anaglyph where nothing was rendered yet, and changes nothing else. Look at each picture before
// committing it.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const [address = 'http://127.0.0.1:4310', folder = 'docs/screenshots'] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });
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

const shoot = async (name) => {
  await page.waitForTimeout(900);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  console.log(name);
};
const stage = (name) =>
  page
    .getByLabel('Stages')
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
const way = (name) => page.getByLabel('Ways to see').getByRole('radio', { name, exact: true }).click();
const open = (name) =>
  page
    .locator('.ct-left')
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click();

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
await stage('Move');
await page.getByRole('button', { name: 'Play' }).click();
await page.getByText('all in memory').waitFor({ timeout: 120_000 });
await page.getByRole('button', { name: 'Pause' }).click();
await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
await page.keyboard.press('ArrowDown');
await shoot('move');
// The board unrolled, the string opened.
await page.getByRole('radio', { name: 'plan', exact: true }).click();
const string = page.getByRole('button', { name: /^Camera’s string/ });
await string.focus();
await page.keyboard.press('Enter');
await page.getByRole('slider', { name: 'Camera, bead 2' }).focus();
await open('Bead');
await page.waitForTimeout(1500);
await shoot('plan');
await open('Ready moves');
await string.focus();
await page.keyboard.press('Enter');
await page.getByRole('radio', { name: 'cards', exact: true }).click();
// A stronger one, with something to see; taken back.
await page.getByLabel('Strength, %').fill('140');
await page.getByLabel('Strength, %').press('Enter');
await open('Guard');
await page.waitForTimeout(9000);
await shoot('guard');
await page.keyboard.press('Control+z');
await page.waitForTimeout(1500);
await stage('Depth');
await page.getByRole('group', { name: 'Orange tree', exact: true }).click({ position: { x: 60, y: 10 } });
await way('Depth over picture');
const pointed = await page.locator('.ct-viewer').boundingBox();
await page.mouse.move(pointed.x + 200, pointed.y + 240);
await page.mouse.move(pointed.x + 202, pointed.y + 242);
await page.waitForTimeout(1500);
await shoot('plates');
await page.getByRole('group', { name: 'Back plate', exact: true }).click({ position: { x: 60, y: 10 } });
await stage('Fill');
await page.waitForTimeout(3000);
await page.keyboard.down('v');
await page.waitForTimeout(2500);
await shoot('fill');
await page.keyboard.up('v');
// What follows is a picture that nobody has cut yet.
await page.keyboard.press('Control+z');
await page.waitForTimeout(2500);
await stage('Cut');
await open('Region paint');
const viewer = await page.locator('.ct-viewer').boundingBox();
const zoom = Math.min((viewer.width - 24) / 1600, (viewer.height - 24) / 1000);
const at = (x, y) => [viewer.x + viewer.width / 2 + (x - 800) * zoom, viewer.y + viewer.height / 2 + (y - 500) * zoom];
const stroke = async (x0, y0, x1, y1) => {
  await page.mouse.move(...at(x0, y0));
  await page.mouse.down();
  await page.mouse.move(...at(x1, y1), { steps: 8 });
  await page.mouse.up();
  await page.waitForTimeout(500);
};
await stroke(280, 380, 520, 380);
await stroke(400, 300, 420, 540);
await stroke(330, 820, 480, 820);
await page.locator('.ct-left').getByText('Out', { exact: true }).click();
for (const [a, b, c, d] of [
  [100, 100, 1500, 100],
  [1060, 480, 1540, 560],
  [1100, 350, 1350, 420],
  [1000, 780, 1500, 700],
  [60, 300, 100, 900],
  [600, 900, 1500, 950],
  [340, 60, 480, 230],
  [860, 520, 940, 600],
])
  await stroke(a, b, c, d);
// Pots of the same clay stand farther back: the choice keeps what is near.
await open('Depth slice');
await page.locator('.ct-left').getByTitle('Both', { exact: true }).click();
await page.getByLabel('From, depth').fill('0.66');
await page.getByRole('button', { name: 'Choose this slice' }).click();
await open('Region paint');
await page.locator('.ct-left').getByTitle('Add', { exact: true }).click();
await page.mouse.move(...at(1450, 40));
await page.waitForTimeout(1500);
await shoot('cut');
await open('Check');
await page.locator('.ct-left').getByText('White', { exact: true }).click();
await page.waitForTimeout(2500);
await shoot('check');
await page.getByRole('button', { name: 'Drop all' }).click();
await page.keyboard.press('Control+Shift+z');
await page.waitForTimeout(2500);
await stage('Depth');
const box = await page.locator('.ct-viewer').boundingBox();
await page.mouse.move(box.x + 300, box.y + 260);
await page.mouse.move(box.x + 302, box.y + 262);
await shoot('depth');
await open('Relief');
await page.waitForTimeout(2500);
await shoot('relief');
await open('Paint');
await stage('Output');
if ((await page.getByTestId('render').count()) === 0) {
  for (const packing of [undefined, 'Red-cyan, least squares']) {
    if (packing) {
      await page.getByLabel('As', { exact: true }).click();
      await page.getByTitle(packing).click();
      await page.waitForTimeout(600);
    }
    await page.getByRole('button', { name: packing ? 'Render' : 'Render left and right', exact: true }).click();
    await page.waitForFunction(
      (n) => document.querySelectorAll('[data-testid=render][data-state=done]').length === n,
      packing ? 2 : 1,
      { timeout: 60_000 },
    );
  }
}
await open('Lenticular sheet');
await page.mouse.move(600, 400);
await shoot('output');
// Another shot: a start in a corridor is looked at and left, a map is made of marks and taken back.
await page.goto('/');
await page.getByLabel('Open Column and lantern').click();
await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0, undefined, { timeout: 60_000 });
await stage('Depth');
await way('Depth over picture');
await open('Start');
await page.locator('.ct-left').getByText('Corridor', { exact: true }).click();
const seen = await page.locator('.ct-viewer').boundingBox();
const fit = Math.min((seen.width - 24) / 960, (seen.height - 24) / 600);
const over = (x, y) => [seen.x + seen.width / 2 + (x - 480) * fit, seen.y + seen.height / 2 + (y - 300) * fit];
await page.mouse.move(...over(480, 200));
await page.mouse.down();
await page.mouse.move(...over(494, 268), { steps: 5 });
await page.mouse.up();
await page.waitForTimeout(2500);
await shoot('start');
await open('Marks');
await page.locator('.ct-left').getByText('From marks', { exact: true }).click();
const marks = [
  ['Garden', 0.02, 400, 225, 470, 228],
  ['Arch', 0.18, 430, 131, 640, 131],
  ['Floor', 0.37, 470, 400, 520, 402],
  ['Floor', 0.69, 290, 560, 640, 566],
  ['Crown', 0.82, 150, 250, 260, 330],
  ['Bench', 0.5, 640, 358, 900, 358],
  ['Column', 0.55, 547, 170, 546, 400],
  ['Sky', 0, 600, 60, 690, 70],
];
for (const [name, depth, x0, y0, x1, y1] of marks) {
  await page.getByRole('spinbutton', { name: /^Depth/ }).fill(String(depth));
  await page.mouse.move(...over(x0, y0));
  await page.mouse.down();
  await page.mouse.move(...over(x1, y1), { steps: 8 });
  await page.mouse.up();
  await page.waitForTimeout(300);
  await page.mouse.click(...over((x0 + x1) / 2, (y0 + y1) / 2));
  await page.getByLabel('Name of the mark').fill(name);
  await page.getByLabel('Name of the mark').press('Enter');
  await page.waitForTimeout(1500);
  await page.mouse.click(...over((x0 + x1) / 2, (y0 + y1) / 2));
  await page.keyboard.press('Escape');
  await page.waitForTimeout(1200);
}
await page.locator('.ct-left').getByRole('button', { name: 'Crown' }).click();
await page.waitForTimeout(3000);
await shoot('marks');
await open('Steps');
await page.getByLabel('Name of this version').fill('Eight marks');
await page.getByRole('button', { name: 'Keep', exact: true }).click();
await page.waitForTimeout(1500);
await page.getByRole('button', { name: 'Brought in to the left' }).click();
await page.waitForTimeout(2500);
await shoot('steps');
for (let n = 0; n < 2 * marks.length + 1; n++) {
  await page.keyboard.press('Control+z');
  await page.waitForTimeout(500);
}
// A film: depth and a plate carried from their keys, then a script that leaves the comfort band.
await page.goto('/');
await page.getByLabel('Open Lantern drift').click();
await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0, undefined, { timeout: 60_000 });
await stage('Depth');
await open('Over time');
const carry = page.getByRole('button', { name: /^Carry to/ });
await page.waitForTimeout(1500);
if (await carry.isVisible()) await carry.click();
await page.getByText('Every frame has its plates and its depth.').waitFor({ timeout: 300_000 });
const needle = page.getByRole('slider', { name: 'Frame', exact: true });
await needle.focus();
await page.keyboard.press('Shift+ArrowRight');
await page.waitForTimeout(1500);
await page.evaluate(() => document.activeElement?.blur());
await shoot('footage');
await stage('Cut');
await open('Over time');
await page.getByRole('group', { name: 'Lantern', exact: true }).click();
await needle.focus();
for (let n = 0; n < 11; n++) await page.keyboard.press('ArrowRight');
await page.waitForTimeout(2000);
await page.evaluate(() => document.activeElement?.blur());
await shoot('carried');
await stage('Stereo');
await open('Over time');
await page.getByRole('button', { name: 'Begin a depth script' }).click();
await needle.focus();
for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowRight');
await page.waitForTimeout(1500);
await open('Budget');
const all = page.getByRole('spinbutton', { name: 'All depth' });
await all.fill('46');
await all.press('Enter');
await page.waitForTimeout(1500);
await open('Over time');
await shoot('script');
await browser.close();
