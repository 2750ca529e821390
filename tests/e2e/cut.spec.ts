import { expect, test } from '@playwright/test';
import { drag, look, newLook, openShot, place, ready, shotOf, stage, stored, watch, way } from './room';

type WithPlates = Awaited<ReturnType<typeof shotOf>> & { document: { plates: { id: string; name: string; hidden: boolean; locked: boolean; depth: { near: number; far: number; revision: string } }[] } };
const state = async (page: import('@playwright/test').Page, id: string): Promise<WithPlates> => (await shotOf(page, id)) as WithPlates;
const left = (page: import('@playwright/test').Page, name: string) => page.locator('.ct-left').getByRole('button', { name: new RegExp(`^${name}`) }).click();

test('a plate is outlined, cut, moved, hidden, locked, painted on and taken back', async ({ page, context }) => {
  test.setTimeout(120_000);
  const errors = watch(page);
  const id = await openShot(page);
  await stage(page, 'Cut');
  await expect(page.getByText('Nothing is chosen yet.')).toBeVisible();
  const plain = await look(page);
  for (const [u, v] of [[0.12, 0.3], [0.32, 0.3], [0.32, 0.95], [0.12, 0.95]]) { const p = await place(page, u, v); await page.mouse.click(p.x, p.y); }
  await page.keyboard.press('Enter');
  const outlined = await newLook(page, plain);
  await expect(page.getByText('1 ingredient')).toBeVisible();
  // Depth keeps what is near inside the outline.
  await left(page, 'Depth slice');
  await page.locator('.ct-left').getByText('Both', { exact: true }).click();
  await page.getByRole('button', { name: 'Choose this slice' }).click();
  await newLook(page, outlined);
  await expect(page.getByText('2 ingredients')).toBeVisible();
  await page.getByLabel('Name of the plate').fill('Tub');
  await page.getByRole('button', { name: 'Cut Tub' }).click();
  const card = page.getByRole('group', { name: 'Tub', exact: true });
  await expect(card).toBeVisible({ timeout: 30_000 });
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
  for (let n = 0; n < 8 && (await state(again, id)).document.plates.length > 0; n++) { await again.keyboard.press('Control+z'); await again.waitForTimeout(500); }
  expect((await state(again, id)).document.plates).toEqual([]);
  await expect(again.getByRole('group', { name: 'Tub', exact: true })).toBeHidden();
  expect(errors).toEqual([]);
});

test('region paint and flood choose live, a planned plate takes the cut, and removing it can be undone', async ({ page }) => {
  test.setTimeout(120_000);
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
  await left(page, 'Flood');
  const p = await place(page, 0.6, 0.95);
  await page.mouse.click(p.x, p.y);
  const flooded = await newLook(page, grown);
  await page.getByLabel('Tolerance, of 255').fill('60');
  await newLook(page, flooded);
  await page.getByRole('button', { name: 'Drop the last' }).click();
  await page.getByRole('button', { name: 'Cut Tree' }).click();
  await expect(card).not.toContainText('planned', { timeout: 40_000 });
  await stored(page);
  await card.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Remove' }).click();
  await expect(card).toBeHidden();
  await stored(page);
  await page.keyboard.press('Control+z');
  await expect(card).toBeVisible();
  for (let n = 0; n < 6 && (await state(page, id)).document.plates.length > 0; n++) { await page.keyboard.press('Control+z'); await page.waitForTimeout(500); }
  expect((await state(page, id)).document.plates).toEqual([]);
});
