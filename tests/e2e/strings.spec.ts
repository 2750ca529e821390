import { expect, test } from '@playwright/test';
import { look, newLook, openShot, shotOf, stage, stored, takeBack, watch } from './room';

test('the board unrolls: camera, aim and plates are moved in the plan, from above and from the side', async ({
  page,
}) => {
  const errors = watch(page);
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Move');
  const document = async () => (await shotOf(page, id)).document;
  const before = await document();
  await page.getByRole('radio', { name: 'plan', exact: true }).click();
  const tree = page.getByRole('slider', { name: 'Orange tree in the plan' });
  await expect(tree).toBeVisible();

  // A plate, by its slip: a hundredth of the ruler nearer.
  await tree.focus();
  await page.keyboard.press('ArrowDown');
  await stored(page);
  const treeOf = (d: typeof before) => d.plates.find((p) => p.name === 'Orange tree')!.depth;
  await expect.poll(async () => treeOf(await document()).near).toBeCloseTo(treeOf(before).near + 0.01, 3);

  // The camera at the needle, from above: a tenth of a metre to the right.
  const needle = page.getByRole('slider', { name: 'Frame', exact: true });
  await needle.focus();
  await page.keyboard.press('ArrowDown');
  const seen = await look(page);
  await page.getByRole('button', { name: /^Camera at the needle/ }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await stored(page);
  const end = async () => (await document()).move!.keys.at(-1)!.value;
  const was = before.move!.keys.at(-1)!.value.position;
  await expect.poll(async () => (await end()).position[0]).toBeCloseTo(was[0] + 0.1, 3);
  await newLook(page, seen);

  // The aim, which it had not: dragged into the scene it is a place there.
  await page.getByRole('button', { name: /^Aim: none/ }).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await stored(page);
  await expect.poll(async () => (await end()).aim?.[2]).toBeGreaterThan(0);

  // From the side: up is to the left, as the picture's top is.
  await page.getByRole('radio', { name: 'side', exact: true }).click();
  await page.getByRole('button', { name: /^Camera at the needle/ }).focus();
  await page.keyboard.press('ArrowLeft');
  await stored(page);
  await expect.poll(async () => (await end()).position[1]).toBeCloseTo(was[1] + 0.01, 3);

  // Other stages have the plan, too.
  await stage(page, 'Stereo');
  await expect(page.getByRole('slider', { name: 'Potting bench in the plan' })).toBeVisible();
  for (let n = 0; n < 4; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
  expect((await document()).move).toEqual(before.move);
  expect(errors).toEqual([]);
});

test('a string is stretched, held, copied and typed; its curve has values and slack', async ({ page }) => {
  const id = await openShot(page);
  await stage(page, 'Move');
  await page.getByRole('button', { name: 'Push in' }).click();
  await stored(page);
  const keys = async () => (await shotOf(page, id)).document.move!.keys;
  const frames = async () => (await keys()).map((key) => key.frame);
  const last = page.getByRole('slider', { name: 'Camera, bead 2' });

  // Typed, then a copy of the first put between.
  await last.focus();
  await page.getByRole('button', { name: /^Bead/ }).click();
  await page.getByLabel('Frame of the bead').fill('101');
  await page.getByLabel('Frame of the bead').press('Enter');
  await expect.poll(frames).toEqual([0, 100]);
  await page.getByRole('slider', { name: 'Camera, bead 1' }).focus();
  await page.keyboard.press('Control+c');
  const needle = page.getByRole('slider', { name: 'Frame', exact: true });
  await needle.focus();
  for (let n = 0; n < 5; n++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+v');
  await expect.poll(frames).toEqual([0, 50, 100]);
  expect((await keys())[1].value).toEqual((await keys())[0].value);

  // The last bead pulled by a frame takes the middle one along by a half, rounded; held, and let go.
  await page.getByRole('slider', { name: 'Camera, bead 3' }).focus();
  await page.keyboard.press('+');
  await expect.poll(frames).toEqual([0, 51, 101]);
  await page.getByRole('slider', { name: 'Camera, bead 2' }).focus();
  await page.keyboard.press('h');
  await expect.poll(async () => (await keys())[1].ease).toBe('hold');
  await page.keyboard.press('h');
  await expect.poll(async () => (await keys())[1].ease).toBe('gentle');

  // Opened, the knot before the last bead hangs 0.42 of 50 frames loose: five more.
  await page.getByRole('button', { name: /^Camera’s string/ }).focus();
  await page.keyboard.press('Enter');
  const knot = page.getByRole('slider', { name: 'Bead 3, slack coming in' });
  await expect(knot).toHaveAttribute('aria-valuenow', '21');
  await knot.focus();
  for (let n = 0; n < 5; n++) await page.keyboard.press('Alt+ArrowLeft');
  await expect.poll(async () => (await keys())[1].ease).toEqual([0.42, 0, 0.48, 1]);

  // A value on the curve: two hundredths of a metre.
  const value = page.getByRole('slider', { name: 'Forward at bead 3' });
  await value.focus();
  const forward = (await keys())[2].value.position[2];
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await expect.poll(async () => (await keys())[2].value.position[2]).toBeCloseTo(forward + 0.02, 2);
  // Back to a shot that has no move.
  while ((await shotOf(page, id)).document.move !== null)
    await takeBack(page, id, () => page.keyboard.press('Control+z'));
});

test('ghosts lie over the picture, and two versions of a move beside each other', async ({ page }) => {
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Move');
  await page.getByRole('button', { name: /^Compare/ }).click();
  await page.getByLabel('Ghosts of the first and the last frame').click();
  await expect(page.getByTestId('ghosts').locator('path').first()).toHaveAttribute('d', /^M/);
  await page.getByRole('button', { name: 'Keep this version' }).click();
  await stored(page);
  expect((await shotOf(page, id)).document.keptMoves.map(({ name }) => name)).toEqual(['Drift']);
  await page.getByRole('button', { name: /^Ready moves/ }).click();
  await page.getByRole('button', { name: 'Pull back' }).click();
  await stored(page);
  const alone = await look(page);
  await page.getByRole('button', { name: /^Compare/ }).click();
  await page.getByRole('button', { name: 'Beside', exact: true }).click();
  await newLook(page, alone);
  await expect(page.getByText('This move')).toBeVisible();
  // Taken up again it is the move; what was there comes back by undo.
  await page.getByRole('button', { name: 'Take', exact: true }).click();
  await stored(page);
  expect((await shotOf(page, id)).document.move!.ready?.kind).toBe('drift');
  for (let n = 0; n < 3; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
});
