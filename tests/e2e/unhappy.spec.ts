import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import type { RenderSummary } from '@/server/renders/renders';
import { openShot, postgresOf, processes, ready, shotOf, stage, stored } from './room';

// Two windows, and everything killed that can be killed while somebody works. bin/start's own supervision brings it back.

const near =
  (value: string) =>
  async (page: import('@playwright/test').Page): Promise<void> => {
    await page.getByLabel('Nearest, parallax in px').fill(value);
    await page.getByLabel('Nearest, parallax in px').press('Enter');
  };

const alive = (pid: number): boolean => {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
};

test('two windows cannot overwrite each other unnoticed: the second is told and catches up', async ({
  page,
  context,
}) => {
  const id = await openShot(page);
  const other = await context.newPage();
  await other.goto(`/shots/${id}`);
  await ready(other);
  // Neither may learn of the other by looking again now and then, so that both build on the same state.
  for (const p of [page, other]) await p.route(`**/api/shots/${id}`, (r) => r.abort());
  await near('-5')(page);
  await stored(page);
  await other.unroute(`**/api/shots/${id}`);
  await other.route(`**/api/shots/${id}`, async (r) => {
    await new Promise((d) => setTimeout(d, 300));
    await r.continue();
  });
  await near('-9')(other);
  await expect(other.getByText('changed in another window').first()).toBeVisible();
  await expect(other.getByLabel('Nearest, parallax in px')).toHaveValue('−5.0');
  expect((await shotOf(page, id)).document.budget.nearPx).toBe(-5);
  await near('-9')(other);
  await expect.poll(async () => (await shotOf(page, id)).document.budget.nearPx).toBe(-9);
  await page.unroute(`**/api/shots/${id}`);
  await expect(page.getByLabel('Nearest, parallax in px')).toHaveValue('−9.0');
  await expect(page.getByText('changed in another window').first()).toBeVisible();
});

test('the database restarts under a running page: the change waits and is stored', async ({ page }) => {
  const id = await openShot(page);
  const postgres = postgresOf();
  expect(postgres).toBeGreaterThan(0);
  process.kill(postgres, 'SIGINT');
  await expect.poll(() => alive(postgres)).toBe(false);
  await near('-7.5')(page);
  await stored(page);
  await expect.poll(async () => (await shotOf(page, id).catch(() => undefined))?.document.budget.nearPx).toBe(-7.5);
});

test('the server is killed and comes back: the page stores on, and undo reaches back before it', async ({
  page,
  context,
}) => {
  const id = await openShot(page);
  const before = (await shotOf(page, id)).document.budget.nearPx;
  await near('-6.5')(page);
  await stored(page);
  for (const pid of processes(/next.* start|next-server/)) process.kill(pid, 'SIGKILL');
  await near('-8.5')(page);
  await expect(page.getByText('Not stored yet, trying again')).toBeVisible();
  await stored(page);
  await page.close();
  const again = await context.newPage();
  await again.goto(`/shots/${id}`);
  await ready(again);
  for (const want of [-6.5, before]) {
    await again.keyboard.press('Control+z');
    await expect.poll(async () => (await shotOf(again, id)).document.budget.nearPx).toBe(want);
  }
});

test('the render worker is killed in the middle: the job is taken up again and the result is whole', async ({
  page,
}) => {
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByRole('spinbutton', { name: 'Views', exact: true }).fill('12');
  await page.getByRole('spinbutton', { name: 'Views', exact: true }).blur();
  await stored(page);
  await page.getByRole('button', { name: 'Render 12 views' }).click();
  const row = page.getByTestId('render').first();
  await expect(row).toContainText(/view[ _]0(0[3-9]|1\d)/);
  const workers = processes(/worker\.mjs/);
  expect(workers).toHaveLength(1);
  const made = async () =>
    ((await (await page.request.get(`/api/shots/${id}`)).json()) as { renders: RenderSummary[] }).renders[0];
  process.kill(workers[0], 'SIGKILL');
  const before = await made();
  expect(before.state).toBe('running');
  expect(before.outputs.length).toBeLessThan(12);
  await expect.poll(() => processes(/worker\.mjs/)).not.toContain(workers[0]);
  await expect(row).toHaveAttribute('data-state', 'done');
  const after = await made();
  expect(after.outputs.map((o) => o.name)).toEqual(
    Array.from({ length: 12 }, (_, n) => `view_${String(n + 1).padStart(3, '0')}.png`),
  );
  for (const o of after.outputs)
    expect(
      await sharp(await (await page.request.get(`/api/renders/${after.id}/files/${o.n}`)).body()).stats(),
    ).toBeTruthy();
});

test('a render is stopped, goes on, and is removed', async ({ page }) => {
  await openShot(page, 'Orangery');
  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByRole('spinbutton', { name: 'Views', exact: true }).fill('40');
  await page.getByRole('spinbutton', { name: 'Views', exact: true }).blur();
  await stored(page);
  await page.getByRole('button', { name: 'Render 40 views' }).click();
  const row = page.getByTestId('render').first();
  await expect(row).toContainText(/view[ _]0(0[2-9]|[1-3]\d)/);
  await row.getByRole('button', { name: 'Stop' }).click();
  await expect(row).toHaveAttribute('data-state', 'stopped');
  await row.getByRole('button', { name: 'Go on' }).click();
  await expect(row).toHaveAttribute('data-state', /queued|running/);
  await expect(row).toContainText(/view[ _]0\d\d/);
  await row.getByRole('button', { name: 'Stop' }).click();
  await expect(row).toHaveAttribute('data-state', 'stopped');
  const count = await page.getByTestId('render').count();
  await row.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByTestId('render')).toHaveCount(count - 1);
});
