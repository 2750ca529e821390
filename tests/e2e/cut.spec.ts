import { readFileSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '@playwright/test';
import sharp from 'sharp';
import { drag, look, newLook, openShot, place, ready, shotOf, stage, stored, undoAll, watch, way } from './room';

type WithPlates = Awaited<ReturnType<typeof shotOf>> & {
  document: {
    plates: {
      id: string;
      name: string;
      hidden: boolean;
      locked: boolean;
      depth: { near: number; far: number; revision: string };
    }[];
  };
};
const state = async (page: import('@playwright/test').Page, id: string): Promise<WithPlates> =>
  (await shotOf(page, id)) as WithPlates;
const left = (page: import('@playwright/test').Page, name: string) =>
  page.locator('.ct-left').getByRole('button', { name, exact: true }).click();

test('a plate is outlined, cut, moved, hidden, locked, painted on and taken back', async ({ page, context }) => {
  const errors = watch(page);
  const id = await openShot(page);
  await stage(page, 'Cut');
  await expect(page.getByText('Nothing is chosen yet.')).toBeVisible();
  const plain = await look(page);
  for (const [u, v] of [
    [0.12, 0.3],
    [0.32, 0.3],
    [0.32, 0.95],
    [0.12, 0.95],
  ]) {
    const p = await place(page, u, v);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press('Enter');
  const outlined = await newLook(page, plain);
  await expect(page.getByLabel('Ingredients of the choice').getByRole('listitem')).toHaveCount(1);
  // Depth keeps what is near inside the outline.
  await left(page, 'Depth slice');
  await page.locator('.ct-left').getByText('Both', { exact: true }).click();
  await page.getByRole('button', { name: 'Choose this slice' }).click();
  await newLook(page, outlined);
  await expect(page.getByLabel('Ingredients of the choice').getByRole('listitem')).toHaveCount(2);
  await page.getByLabel('Name of the plate').fill('Tub');
  await page.getByRole('button', { name: 'Cut Tub' }).click();
  const card = page.getByRole('group', { name: 'Tub', exact: true });
  await expect(card).toBeVisible();
  await stored(page);
  await expect(page.getByText('Nothing is chosen yet.')).toBeVisible();
  const cut = await state(page, id);
  expect(cut.undo).toBe('Cut Tub');
  expect(cut.document.plates).toHaveLength(1);

  await stage(page, 'Stereo');
  const before = await newLook(page, outlined);
  await card.focus();
  await page.keyboard.press('Shift+ArrowUp');
  const moved = await newLook(page, before);
  await stored(page);
  expect((await state(page, id)).document.plates[0].depth.near).toBeCloseTo(cut.document.plates[0].depth.near - 0.1, 2);
  await card.getByRole('button', { name: 'Hide' }).click();
  await newLook(page, moved);
  await expect(card).toContainText('face down: hidden');

  // A stroke on a hidden plate says why nothing happened.
  await stage(page, 'Depth');
  await way(page, 'Depth');
  await stored(page);
  const { head } = await state(page, id);
  await drag(page, await place(page, 0.19, 0.6), await place(page, 0.25, 0.6));
  await expect(page.getByText('Tub lies face down: hidden')).toBeVisible();
  await card.getByRole('button', { name: 'Show' }).click();
  await card.getByRole('button', { name: 'Lock', exact: true }).click();
  await stored(page);
  await drag(page, await place(page, 0.19, 0.6), await place(page, 0.25, 0.6));
  await expect(page.getByText('Tub is locked.')).toBeVisible();
  expect((await state(page, id)).head).toBeGreaterThan(head);
  await card.getByRole('button', { name: 'Unlock' }).click();
  await stored(page);
  const revision = (await state(page, id)).document.plates[0].depth.revision;
  const unpainted = await look(page);
  await drag(page, await place(page, 0.19, 0.6), await place(page, 0.25, 0.6));
  await newLook(page, unpainted);
  await stored(page);
  const painted = await state(page, id);
  expect(painted.document.plates[0].depth.revision).not.toBe(revision);
  expect(painted.document.depth.revision).toBe(cut.document.depth.revision);

  // Undone after the page is closed, back to the beginning.
  await page.close();
  const again = await context.newPage();
  await again.goto(`/shots/${id}`);
  await ready(again);
  await undoAll(again, id);
  expect((await state(again, id)).document.plates).toEqual([]);
  await expect(again.getByRole('group', { name: 'Tub', exact: true })).toBeHidden();
  expect(errors).toEqual([]);
});

/** A plate goes by its card's menu; a press on a menu that is still unfolding may be lost, and is made again. */
async function removePlate(page: Page, card: Locator): Promise<void> {
  const sure = page.getByRole('dialog').getByRole('button', { name: 'Remove' });
  const item = page.getByRole('menuitem', { name: 'Remove' });
  await expect(async () => {
    if (!(await item.isVisible())) await card.getByRole('button', { name: 'More' }).click({ timeout: 3000 });
    await item.click({ timeout: 3000 });
    await expect(sure).toBeVisible({ timeout: 3000 });
  }).toPass();
  await sure.click();
  await expect(card).toBeHidden();
}

test('region paint and flood choose live, a planned plate takes the cut, and removing it can be undone', async ({
  page,
}) => {
  const id = await openShot(page);
  await stage(page, 'Cut');
  await left(page, 'Plan');
  await page.getByLabel('Name of a planned plate').fill('Tree');
  await page.getByRole('button', { name: 'Plan this plate' }).click();
  const card = page.getByRole('group', { name: 'Tree', exact: true });
  await expect(card).toContainText('planned, not cut yet');
  await card.click();
  await left(page, 'Region paint');
  const plain = await look(page);
  await drag(page, await place(page, 0.3, 0.4), await place(page, 0.42, 0.42));
  await expect(page.getByText('Now a stroke that says out')).toBeVisible();
  await page.locator('.ct-left').getByText('Out', { exact: true }).click();
  await drag(page, await place(page, 0.1, 0.08), await place(page, 0.9, 0.08));
  const grown = await newLook(page, plain);
  await expect(page.getByText('Hatched pieces would change sides')).toBeVisible();
  await page.getByRole('switch', { name: 'Hatch where it is unsure' }).click();
  await expect(page.getByText('Hatched pieces would change sides')).toBeHidden();
  await left(page, 'Flood');
  const p = await place(page, 0.6, 0.95);
  await page.mouse.click(p.x, p.y);
  const flooded = await newLook(page, grown);
  await page.getByLabel('Tolerance, of 255').fill('60');
  await newLook(page, flooded);
  await page.getByRole('button', { name: 'Drop flood 2' }).click();
  await page.getByRole('button', { name: 'Cut Tree' }).click();
  await expect(card).not.toContainText('planned');
  await stored(page);
  await removePlate(page, card);
  await stored(page);
  await page.keyboard.press('Control+z');
  await expect(card).toBeVisible();
  await undoAll(page, id);
  expect((await state(page, id)).document.plates).toEqual([]);
});

test('curves, edge traces and pieces choose; corners are dragged; plates are split, duplicated, merged and grouped', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const errors = watch(page);
  const id = await openShot(page);
  await stage(page, 'Cut');
  const items = page.getByLabel('Ingredients of the choice').getByRole('listitem');
  const press = async (u: number, v: number): Promise<void> => {
    const p = await place(page, u, v);
    await page.mouse.click(p.x, p.y);
  };
  await page.locator('.ct-left').getByText('Curve', { exact: true }).click();
  for (const [a, b, c, d] of [
    [0.3, 0.3, 0.36, 0.3],
    [0.45, 0.5, 0.45, 0.6],
    [0.3, 0.7, 0.24, 0.7],
    [0.15, 0.5, 0.15, 0.4],
  ])
    await drag(page, await place(page, a, b), await place(page, c, d));
  const before = await look(page);
  await page.keyboard.press('Enter');
  await expect(items).toHaveCount(1);
  const curved = await newLook(page, before);
  await drag(page, await place(page, 0.3, 0.3), await place(page, 0.3, 0.22));
  const dragged = await newLook(page, curved);
  await left(page, 'Edge trace');
  const places = page.locator('.ct-viewer svg circle[r="4"]');
  for (const [n, [u, v]] of [
    [0.6, 0.6],
    [0.68, 0.62],
    [0.64, 0.75],
  ].entries()) {
    await press(u, v);
    await expect(places).toHaveCount(n + 1);
  }
  await page.keyboard.press('Enter');
  await expect(items).toHaveCount(2);
  const traced = await newLook(page, dragged);
  await left(page, 'Pieces');
  await drag(page, await place(page, 0.8, 0.4), await place(page, 0.86, 0.6), 12);
  await expect(items).toHaveCount(3);
  const pieced = await newLook(page, traced);
  await items
    .nth(2)
    .getByRole('button', { name: /joins by Add/ })
    .click();
  await expect(items.nth(2)).toContainText('Take');
  await newLook(page, pieced);
  for (const n of [3, 2]) await page.getByRole('button', { name: new RegExp(`^Drop .* ${n}$`) }).click();
  await page.getByLabel('Name of the plate').fill('Oval');
  await page.getByRole('button', { name: 'Cut Oval' }).click();
  const card = page.getByRole('group', { name: 'Oval', exact: true });
  await expect(card).toBeVisible();
  await stored(page);

  // A part of it is split off, by what is chosen next.
  await left(page, 'Outline');
  await page.locator('.ct-left').getByText('Rectangle', { exact: true }).click();
  await drag(page, await place(page, 0.3, 0.1), await place(page, 0.5, 0.9));
  await page.getByRole('button', { name: 'Split it off Oval' }).click();
  const part = page.getByRole('group', { name: 'Part of Oval', exact: true });
  await expect(part).toBeVisible();
  await stored(page);
  await part.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  const copy = page.getByRole('group', { name: 'Part of Oval copy', exact: true });
  await expect(copy).toBeVisible();
  await stored(page);
  // In one group they hide together.
  const group = async (which: typeof card): Promise<void> => {
    await which.getByRole('button', { name: 'More' }).click();
    // A press on a menu that is still unfolding may be lost.
    const within = page.getByRole('menuitem', { name: /^(New group|Join)/ }).first();
    await expect(async () => {
      if (!(await within.isVisible())) await page.getByRole('menuitem', { name: /^Group/ }).click();
      await expect(within).toBeVisible({ timeout: 3000 });
    }).toPass();
  };
  await group(copy);
  await page.getByRole('menuitem', { name: 'New group' }).click();
  await page.getByLabel('Name of the group').fill('Pair');
  await page.getByRole('dialog').getByRole('button', { name: 'Group' }).click();
  await expect(copy).toContainText('in Pair');
  await stored(page);
  await part.click({ position: { x: 60, y: 8 } });
  await group(part);
  await page.getByRole('menuitem', { name: 'Join Pair' }).click();
  await stored(page);
  await part.getByRole('button', { name: 'Hide' }).click();
  await stored(page);
  expect((await state(page, id)).document.plates.map((p) => [p.name, p.hidden])).toEqual([
    ['Oval', false],
    ['Part of Oval', true],
    ['Part of Oval copy', true],
  ]);
  await undoAll(page, id);
  expect((await state(page, id)).document.plates).toEqual([]);
  expect(errors).toEqual([]);
});

test('a picture is brought in, placed and matched; plates go out in a zip and come back whole; a wrong file is refused', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const id = await openShot(page);
  await stage(page, 'Cut');
  await left(page, 'Bring in');
  const file = page.locator('.ct-drop input[type=file]');
  await file.setInputFiles({
    name: 'leaf.png',
    mimeType: 'image/png',
    buffer: await sharp({
      create: { width: 200, height: 120, channels: 4, background: { r: 30, g: 160, b: 60, alpha: 1 } },
    })
      .png()
      .toBuffer(),
  });
  const card = page.getByRole('group', { name: 'leaf', exact: true });
  await expect(card).toBeVisible();
  const placed = await look(page);
  await drag(page, await place(page, 0.5, 0.5), await place(page, 0.7, 0.6));
  const moved = await newLook(page, placed);
  await stored(page);
  await page.getByLabel('Match colours to the surroundings').click();
  await newLook(page, moved);
  await stored(page);
  await left(page, 'Hand out');
  const waiting = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Zip, same canvas' }).click();
  const zip = await (await waiting).path();
  const before = (await state(page, id)).document.plates[0];
  await removePlate(page, card);
  await stored(page);
  await left(page, 'Bring in');
  await file.setInputFiles({ name: 'plates.zip', mimeType: 'application/zip', buffer: readFileSync(zip) });
  await expect(card).toBeVisible();
  expect((await state(page, id)).document.plates[0].depth.near).toBe(before.depth.near);
  await file.setInputFiles({
    name: 'notes.png',
    mimeType: 'image/png',
    buffer: Buffer.from('these are only words, no picture'),
  });
  await expect(page.getByText('notes.png is not a picture that can be read here')).toBeVisible();
  await undoAll(page, id);
  expect((await state(page, id)).document.plates).toEqual([]);
});
