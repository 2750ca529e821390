import { expect, test } from '@playwright/test';
import { drag, look, newLook, openShot, place, shotOf, stage, stored, watch } from './room';

type Filled = Awaited<ReturnType<typeof shotOf>> & { document: { fill: string | null; frame: { left: number; width: number } | null; source: { width: number }; plates: unknown[] } };

test('what is uncovered is counted, looked behind, filled by machine and by hand, and the border extended', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page), id = await openShot(page);
  const state = async (): Promise<Filled> => (await shotOf(page, id)) as Filled;
  const left = (name: string) => page.locator('.ct-left').getByRole('button', { name, exact: true }).click();
  await stage(page, 'Fill');
  await expect(page.getByText('No plate is cut yet.')).toBeVisible();
  await stage(page, 'Cut');
  for (const [u, v] of [[0.12, 0.3], [0.32, 0.3], [0.32, 0.95], [0.12, 0.95]]) { const p = await place(page, u, v); await page.mouse.click(p.x, p.y); }
  await page.keyboard.press('Enter');
  await page.getByLabel('Name of the plate').fill('Tub');
  await page.getByRole('button', { name: 'Cut Tub' }).click();
  await expect(page.getByRole('group', { name: 'Tub', exact: true })).toBeVisible({ timeout: 30_000 });
  await stored(page);
  // The plate is brought well before the ground, so that the eyes look behind it.
  await page.getByRole('group', { name: 'Tub', exact: true }).focus();
  for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowDown');
  await stored(page);
  await page.getByRole('group', { name: 'Back plate', exact: true }).click({ position: { x: 60, y: 10 } });
  await stage(page, 'Fill');
  const list = page.getByRole('list', { name: 'What is uncovered' });
  await expect(list).toContainText(/px open/, { timeout: 20_000 });
  const marked = await look(page);
  await page.keyboard.down('v');
  const aside = await newLook(page, marked);
  await page.keyboard.up('v');
  await newLook(page, aside);
  await left('Fill');
  await page.getByLabel('Proposals', { exact: true }).first().fill('2');
  await page.getByRole('button', { name: 'Fill the back plate' }).click();
  await expect(page.getByRole('button', { name: 'Proposal 2' })).toBeVisible({ timeout: 90_000 });
  await stored(page);
  const first = (await state()).document.fill;
  expect(first).not.toBeNull();
  await page.getByRole('button', { name: 'Proposal 2' }).click();
  await stored(page);
  expect((await state()).document.fill).not.toBe(first);
  await left('What is uncovered');
  await expect(list).toContainText('all filled', { timeout: 20_000 });

  await left('Clone');
  await drag(page, await place(page, 0.2, 0.6), await place(page, 0.24, 0.6));
  await expect(page.getByText('Pick where to copy from first')).toBeVisible();
  const source = await place(page, 0.6, 0.85);
  await page.keyboard.down('Alt');
  await page.mouse.click(source.x, source.y);
  await page.keyboard.up('Alt');
  const before = (await state()).document.fill;
  await drag(page, await place(page, 0.2, 0.6), await place(page, 0.28, 0.62));
  await expect.poll(async () => (await state()).document.fill, { timeout: 20_000 }).not.toBe(before);
  await page.getByLabel('Also on the picture itself').click();
  await expect(page.getByRole('dialog')).toContainText('Paint on the picture itself?');
  await page.getByRole('button', { name: 'Only what is hidden' }).click();

  await left('Border');
  const enough = page.getByRole('button', { name: 'Extend by just enough' });
  await expect(enough).toBeVisible({ timeout: 30_000 });
  const { width } = (await state()).document.source;
  await enough.click();
  await expect(page.getByText('What is handed over is cropped to the frame')).toBeVisible({ timeout: 30_000 });
  expect((await state()).document.source.width).toBeGreaterThan(width);
  await expect(page.getByText('No view runs out of picture within the frame.')).toBeVisible({ timeout: 30_000 });
  await page.waitForSelector('canvas[data-state=ready]', { timeout: 30_000 });
  for (let n = 0; n < 16 && (await state()).undo !== null; n++) { await page.keyboard.press('Control+z'); await page.waitForTimeout(500); }
  expect((await state()).document).toMatchObject({ plates: [], fill: null, frame: null });
  expect(errors).toEqual([]);
});
