import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import type { ShotDocument } from '@/core/shot/document';
import { OPENCV } from '../support/cli';
import { drag, look, newLook, openShot, place, ready, shotOf, stage, stored, watch, way } from './room';

/** A photograph that nobody has given depth. */
async function bringIn(
  page: Page,
  file: string | { name: string; mimeType: string; buffer: Buffer } = join(OPENCV, 'leuvenA.jpg'),
): Promise<string> {
  await page.goto('/');
  await page.locator('input[type=file]').first().setInputFiles(file);
  await page.waitForURL(/shots\//);
  await ready(page);
  return /shots\/([0-9a-f-]+)/.exec(page.url())![1];
}

const marksOf = async (page: Page, id: string) =>
  (((await shotOf(page, id)).document as unknown as ShotDocument).marks[0]?.marks ?? []).map(({ says }) => says);

test('a flat photograph gets a first depth, is seen through glasses, and bent by marks', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const id = await bringIn(page);
  const left = page.locator('.ct-left');
  await way(page, 'Glasses');
  const flat = await look(page);
  await page.getByRole('button', { name: 'Start with a first depth' }).click();
  await way(page, 'Glasses');
  const started = await newLook(page, flat);
  // Another room shows at once; the point where its lines meet can be dragged.
  await way(page, 'Depth over picture');
  const plain = await newLook(page, started);
  await left.getByText('Street', { exact: true }).click();
  const street = await newLook(page, plain);
  await drag(page, await place(page, 0.5, 1 / 3), await place(page, 0.38, 0.58));
  const turned = await newLook(page, street);
  await left.getByRole('button', { name: 'What stands out alone' }).click();
  const alone = await newLook(page, turned);
  await left.getByRole('button', { name: 'What stands out alone' }).click();
  await newLook(page, alone);
  expect((await shotOf(page, id)).undo).toBeNull();
  await page.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('A start from cues');

  await left.getByRole('button', { name: /^Marks/ }).click();
  const list = page.getByRole('list', { name: 'Marks' });
  const before = await look(page);
  await drag(page, await place(page, 0.2, 0.9), await place(page, 0.7, 0.92));
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await newLook(page, before);
  await expect.poll(() => marksOf(page, id)).toEqual([{ kind: 'depth', depth: 0.7 }]);
  // A second one, of another depth; then it is said to be as deep as the first.
  await page.getByRole('spinbutton', { name: /^Depth/ }).fill('0.1');
  await drag(page, await place(page, 0.42, 0.55), await place(page, 0.46, 0.56));
  await expect.poll(() => marksOf(page, id)).toHaveLength(2);
  await list.getByRole('button', { name: 'Mark 2' }).click();
  await left.getByText('Same as', { exact: true }).click();
  await expect.poll(async () => (await marksOf(page, id)).map(({ kind }) => kind)).toEqual(['depth', 'same']);
  await expect(list).toContainText('as Mark 1');
  // The first is moved, the second taken away by key; undo brings it back.
  const held = async () => ((await shotOf(page, id)).document as unknown as ShotDocument).marks[0].marks[0].points[0].y;
  const y = await held();
  await drag(page, await place(page, 0.4, 0.908), await place(page, 0.4, 0.85));
  await expect.poll(held).toBeLessThan(y);
  await list.getByRole('button', { name: 'Mark 2' }).click();
  await page.keyboard.press('Delete');
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await expect.poll(() => marksOf(page, id)).toHaveLength(1);
  await stored(page);
  await page.keyboard.press('Control+z');
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await stored(page);
  expect(errors).toEqual([]);
});

test('a start that is looked at and left changes nothing', async ({ page }) => {
  const id = await bringIn(page);
  await page.getByRole('button', { name: 'Start with a first depth' }).click();
  await way(page, 'Depth');
  await expect(page.getByRole('button', { name: 'Make it the depth map' })).toBeVisible();
  const started = await look(page);
  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Paint/ })
    .click();
  await newLook(page, started);
  expect((await shotOf(page, id)).undo).toBeNull();
});

test('a second photograph gives depth; the map is remapped, leaves as EXR and comes back as it was', async ({
  page,
}) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const small = async (name: string) => ({
    name,
    mimeType: 'image/png',
    buffer: await sharp(join(OPENCV, name)).resize(427, 370).png().toBuffer(),
  });
  const id = await bringIn(page, await small('aloeL.jpg'));
  const left = page.locator('.ct-left');
  const way = (name: RegExp) => left.getByRole('button', { name }).click();
  await stage(page, 'Depth');
  const flat = await look(page);
  await way(/^Second picture/);
  await left.locator('input[type=file]').setInputFiles(await small('aloeR.jpg'));
  await expect(page.getByText(/^Matched: as photographed/)).toBeVisible();
  const matched = await newLook(page, flat);
  expect((await shotOf(page, id)).undo).toBe('Depth from aloeR.jpg');
  const map = async (as: string): Promise<Buffer> =>
    (await page.request.get(`/api/shots/${id}/depth/export?as=${as}`)).body();
  const png = await map('png');

  // A curve: a bead is set by a press, moved by key, and the other end taken back.
  await way(/^Remap/);
  const card = page.locator('.ct-remap');
  const chart = (await card.locator('svg').last().boundingBox())!;
  await page.mouse.click(chart.x + chart.width * 0.5, chart.y + chart.height * 0.3);
  const curved = await newLook(page, matched);
  const bead = card.getByRole('slider', { name: 'Bead 2: depth in' });
  await bead.focus();
  await page.keyboard.press('ArrowUp');
  await newLook(page, curved);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('Remap');
  await stored(page);
  const bent = await map('exr');
  expect(bent.includes('linear in inverse distance')).toBe(true);

  // Taken back, and the bent one brought in again as a file.
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await map('png')).equals(png)).toBe(true);
  await way(/^Bring in/);
  await left.getByRole('switch', { name: 'Mend the map' }).click();
  await left.locator('input[type=file]').setInputFiles({ name: 'bent.exr', mimeType: 'image/x-exr', buffer: bent });
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('Depth from bent.exr');
  expect((await map('exr')).equals(bent)).toBe(true);
  // Two photographs of different sizes are refused by both.
  await way(/^Second picture/);
  await left.locator('input[type=file]').setInputFiles(join(OPENCV, 'fruits.jpg'));
  await expect(page.getByText(/fruits\.jpg is 512 × 480 px but the picture is 427 × 370 px/)).toBeVisible();
  expect(errors.filter((text) => !text.includes('422'))).toEqual([]);
});

test('a map’s faults are found and cured, a slice is moved, and a cut-out gets a body', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Depth');
  const left = page.locator('.ct-left');
  const undo = async () => (await shotOf(page, id)).undo;
  const first = await undo();
  const open = (name: RegExp) => left.getByRole('button', { name }).click();
  // A map of 8 bits that ends halfway, brought in as it is.
  const terraces = await sharp(
    Buffer.from(Uint8Array.from({ length: 1600 * 1000 }, (_, i) => Math.floor((i % 1600) / 13))),
    { raw: { width: 1600, height: 1000, channels: 1 } },
  )
    .png()
    .toBuffer();
  await open(/^Bring in/);
  await left.getByRole('switch', { name: 'Mend the map' }).click();
  await left
    .locator('input[type=file]')
    .setInputFiles({ name: 'terraces.png', mimeType: 'image/png', buffer: terraces });
  await expect.poll(undo).toBe('Depth from terraces.png');
  await stored(page);
  await open(/^Check/);
  const found = page.getByRole('list', { name: 'Found in the map' });
  await expect(found).toContainText('Terraces of 8 bits');
  await expect(found).toContainText('Empty range');
  await left.getByRole('button', { name: /^Stretch/ }).click();
  await expect.poll(undo).toBe('Remap');
  await expect(left.getByText('Empty range')).toHaveCount(0);
  await stored(page);
  await page.keyboard.press('Control+z');
  await expect.poll(undo).toBe('Depth from terraces.png');
  await expect(found).toContainText('Empty range');
  await left.getByRole('button', { name: /^Even out/ }).click();
  await expect.poll(undo).toBe('Mend the map');
  await expect(left.getByText('Terraces of 8 bits')).toHaveCount(0);
  await stored(page);

  await open(/^Shape/);
  await left.getByText('Slice', { exact: true }).click();
  const before = await look(page);
  const by = left.getByRole('spinbutton', { name: /^Nearer by/ });
  await by.fill('0.2');
  await by.press('Enter');
  await newLook(page, before);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(undo).toBe('Slice 0.40 to 0.60');
  await stored(page);
  // The back plate has no edge; a plate has.
  await left.getByText('Round', { exact: true }).click();
  await expect(left.getByText('This begins at an edge')).toBeVisible();
  await page.getByRole('group', { name: 'Orange tree', exact: true }).click({ position: { x: 60, y: 8 } });
  await expect(left.getByText('This begins at an edge')).toHaveCount(0);
  const flat = await look(page);
  await left.getByText('Pillow', { exact: true }).click();
  await newLook(page, flat);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(undo).toBe('Round');
  await stored(page);
  for (let n = 0; (await undo()) !== first && n < 10; n++) {
    await page.keyboard.press('Control+z');
    await stored(page);
  }
  expect(await undo()).toBe(first);
  expect(errors).toEqual([]);
});
