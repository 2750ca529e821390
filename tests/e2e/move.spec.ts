import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import { look, newLook, openShot, option, otherLook, shotOf, stage, stored, takeBack, watch, way } from './room';

test('the demo drifts: it plays from memory, is scrubbed, and looks on through every way to see', async ({ page }) => {
  const errors = watch(page);
  await openShot(page, 'Orangery');
  await stage(page, 'Move');
  await expect(page.getByRole('button', { name: 'Drift', pressed: true })).toBeVisible();
  const rest = await look(page);
  await page.getByRole('button', { name: 'Play' }).click();
  await expect(page.getByTestId('in-memory')).toHaveText('24 frames/s, all in memory');
  // Every frame is there: what is shown changes as it goes on.
  await otherLook(page, rest);
  await page.getByRole('button', { name: 'Pause' }).click();
  const needle = page.getByRole('slider', { name: 'Frame', exact: true });
  await needle.focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByTestId('frame')).toHaveText('120');
  const end = await newLook(page, rest);
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.getByTestId('frame')).toHaveText('110');
  let seen = await newLook(page, end);
  for (const name of ['Left', 'Right', 'Glasses']) {
    await way(page, name);
    seen = await newLook(page, seen);
  }
  expect(errors).toEqual([]);
});

test('a new shot has no move; a ready one sets beads, which are moved, set, taken off and taken back', async ({
  page,
}) => {
  const id = await openShot(page);
  await stage(page, 'Move');
  await expect(page.getByText('Nothing moves yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Push in' }).click();
  await stored(page);
  const move = async () => (await shotOf(page, id)).document.move!;
  expect(await move()).toMatchObject({ frames: 120, ready: { kind: 'push-in' }, keys: { length: 2 } });

  await page.getByLabel('Strength, %').fill('120');
  await page.getByLabel('Strength, %').press('Enter');
  await stored(page);
  expect((await move()).ready?.strength).toBe(1.2);

  const last = page.getByRole('slider', { name: 'Camera, bead 2' });
  await last.focus();
  await page.keyboard.press('Alt+Shift+ArrowLeft');
  await stored(page);
  await expect.poll(async () => (await move()).keys[1].frame).toBe(109);
  // By hand it is no ready move any more.
  expect((await move()).ready).toBeNull();

  await page.getByRole('button', { name: /^Bead/ }).click();
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await page.getByLabel('Pan, °').fill('2.5');
  await page.getByLabel('Pan, °').press('Enter');
  await stored(page);
  await expect
    .poll(async () => (await move()).keys.map(({ frame, value }) => [frame, value.pan]))
    .toEqual([
      [0, 0],
      [99, 2.5],
      [109, 0],
    ]);
  await page.getByRole('slider', { name: 'Camera, bead 2' }).focus();
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await move()).keys.length).toBe(2);
  for (let n = 0; n < 5; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
  expect((await shotOf(page, id)).document.move).toBeNull();
  await expect(page.getByText('Nothing moves yet.')).toBeVisible();
});

test('the guard says what must not be seen and where; overscan cures a dry border', async ({ page }) => {
  const id = await openShot(page);
  await stage(page, 'Move');
  await page.getByRole('button', { name: 'Pull back' }).click();
  await page.getByRole('button', { name: 'Slide' }).click();
  await page.getByRole('button', { name: /^Bead/ }).click();
  // Out beyond the picture: at the end nothing lies at its border.
  await page.getByRole('slider', { name: 'Camera, bead 2' }).focus();
  await page.getByLabel('Forward, m').fill('-0.4');
  await page.getByLabel('Forward, m').press('Enter');
  await stored(page);
  await page.getByRole('button', { name: /^Guard/ }).click();
  const found = page.locator('.ct-found');
  await expect(found.getByText(/border dry/).first()).toBeVisible();
  await found
    .getByText(/border dry/)
    .first()
    .click();
  // At the worst of its frames.
  await expect.poll(async () => Number(await page.getByTestId('frame').textContent())).toBeGreaterThan(60);
  await found
    .getByRole('button', { name: /^Overscan/ })
    .first()
    .click();
  await stored(page);
  await expect(found.getByText(/border dry/)).toHaveCount(0);
  await expect.poll(async () => (await shotOf(page, id)).document.move!.keys[1].value.zoom).toBeGreaterThan(1.05);
  for (let n = 0; n < 4; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
});

test('what the move uncovers is counted in Fill, and what another shape cuts off is dimmed in Output', async ({
  page,
}) => {
  await openShot(page, 'Orangery');
  await stage(page, 'Fill');
  const filled = page.locator('.ct-uncovered').getByText(/px filled/);
  const counted = async () =>
    Number(/(\d[\d\u2009 ]*) px filled/.exec((await filled.textContent()) ?? '')?.[1].replace(/\D/g, ''));
  const all = async () => {
    const value = await counted();
    return Number.isFinite(value) ? value : 0;
  };
  await expect.poll(all).toBeGreaterThan(1000);
  const byMove = await all();
  await page.getByLabel('Also what the move uncovers').click();
  await expect.poll(all).toBeLessThan(byMove);
  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Video/ }).click();
  await expect(page.getByTestId('crop')).toHaveText('1920 × 1080');
});

test('the move is handed over as a video', async ({ page }) => {
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Video/ }).click();
  await option(page, 'Size', 'Other');
  await page.getByLabel('Video width, px').fill('320');
  await page.getByLabel('Video height, px').fill('180');
  await page.getByLabel('Video height, px').blur();
  await stored(page);
  await page.getByRole('button', { name: 'Render video' }).click();
  const first = page.getByTestId('render').first();
  await expect(first).toHaveAttribute('data-state', 'done');
  const [download] = await Promise.all([page.waitForEvent('download'), first.getByTitle(/^move-centre\.mp4/).click()]);
  const words = [
    '-v',
    'error',
    '-show_entries',
    'stream=width,height,nb_frames,r_frame_rate,color_space',
    '-of',
    'csv=p=0',
  ];
  expect(execFileSync('ffprobe', [...words, await download.path()], { encoding: 'utf8' }).trim()).toBe(
    '320,180,bt709,24/1,120',
  );
  for (let n = 0; n < 3; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
});
