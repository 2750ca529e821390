import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { meanOfChannels } from '../support/onnx';
import { drag, look, newLook, openShot, place, shotOf, stage, stored, takeBack, watch } from './room';

/** A demo shot in the Depth stage, and the ways of working beside it. */
async function open(page: Page) {
  const id = await openShot(page, 'Orangery');
  await stage(page, 'Depth');
  const left = page.locator('.ct-left');
  return {
    id,
    left,
    undo: async () => (await shotOf(page, id)).undo,
    way: (name: RegExp) => left.getByRole('button', { name }).click(),
    /** Everything that the walk did is taken back. */
    back: async (first: string | null) => {
      for (let n = 0; (await shotOf(page, id)).undo !== first && n < 12; n++)
        await takeBack(page, id, () => page.keyboard.press('Control+z'));
      expect((await shotOf(page, id)).undo).toBe(first);
    },
  };
}

/** Draws around a box of the picture, shares of its sides. */
async function around(page: Page, box: readonly [number, number, number, number]): Promise<void> {
  const [left, top, right, bottom] = box;
  for (const [x, y] of [
    [left, top],
    [right, top],
    [right, bottom],
  ]) {
    const at = await place(page, x, y);
    await page.mouse.click(at.x, at.y);
  }
  const at = await place(page, left, bottom);
  await page.mouse.dblclick(at.x, at.y);
}

test('a part that is drawn around is laid flat, blended, and matched; a slice becomes a part', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const { id, left, undo, way, back } = await open(page);
  const first = await undo();
  await way(/^Shape/);
  await left.getByText('Level', { exact: true }).click();
  await left.getByText('A part', { exact: true }).click();
  await expect(left.getByText(/^Draw around the part/)).toBeVisible();
  const before = await look(page);
  await around(page, [0.45, 0.3, 0.6, 0.5]);
  await expect(left.getByText('1 shape chosen')).toBeVisible();
  const level = await newLook(page, before);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(undo).toBe('Fill with 0.50');
  await stored(page);

  await left.getByText('Blend', { exact: true }).click();
  const blended = await newLook(page, level);
  await left.getByText('Inward', { exact: true }).click();
  await newLook(page, blended);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(undo).toBe('Blend the edge inward');
  await stored(page);

  // As deep as the floor in front.
  await left.getByText('Match', { exact: true }).click();
  await expect(left.getByRole('button', { name: 'Make it the depth map' })).toBeDisabled();
  await left.getByRole('button', { name: 'Pick a place' }).click();
  const floor = await place(page, 0.6, 0.9);
  const unmatched = await look(page);
  await page.mouse.click(floor.x, floor.y);
  await expect(page.getByText('as deep as this')).toBeVisible();
  await newLook(page, unmatched);
  await left.getByRole('button', { name: 'Make it the depth map' }).click();
  await expect.poll(undo).toBe('Match depths');
  await stored(page);

  // What lies between two depths is chosen as well, and waits in Cut to become a plate.
  await left.getByText('Slice', { exact: true }).click();
  await left.getByRole('button', { name: 'Choose this slice' }).click();
  await expect(left.getByText('2 shapes chosen')).toBeVisible();
  await left.getByRole('button', { name: 'Change in Cut' }).click();
  await expect(page.getByRole('heading', { name: 'Cut', level: 1 })).toBeVisible();
  await expect(left.getByText('depth slice').first()).toBeVisible();
  await stage(page, 'Depth');
  await left.getByRole('button', { name: 'Drop' }).click();
  await expect(left.getByText('Nothing chosen yet')).toBeVisible();
  expect((await shotOf(page, id)).undo).toBe('Match depths');
  await back(first);
  expect(errors).toEqual([]);
});

test('a brush stops at edges and pushes; its steps are kept, compared under a line, and taken up', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const { id, left, undo, way, back } = await open(page);
  const first = await undo();
  const map = async (): Promise<Buffer> => (await page.request.get(`/api/shots/${id}/depth/export?as=pfm`)).body();
  const changed = (a: Buffer, b: Buffer): number => {
    let n = 0;
    // From the end: there the header, whose length is any, does not matter.
    for (let i = a.length - 4; i > 64; i -= 4) if (a.readFloatLE(i) !== b.readFloatLE(i)) n++;
    return n;
  };
  const began = await map();
  const stroke = async (): Promise<void> => {
    await drag(page, await place(page, 0.62, 0.75), await place(page, 0.66, 0.76));
    await stored(page);
  };
  await left.getByText('Nothing', { exact: true }).click();
  await stroke();
  await expect.poll(undo).toBe('Set depth 0.70');
  const free = changed(began, await map());
  await takeBack(page, id, () => page.keyboard.press('Control+z'));
  await left.getByRole('switch', { name: 'Stopped by the picture’s edges' }).click();
  await stroke();
  await expect.poll(undo).toBe('Set depth 0.70');
  const stopped = changed(began, await map());
  expect(stopped).toBeGreaterThan(0);
  expect(stopped).toBeLessThan(free);
  await left.getByText('Push', { exact: true }).click();
  await stroke();
  await expect.poll(undo).toBe('Push depth');
  const pushed = await map();

  await way(/^Ramp/);
  await left.getByText('Circle', { exact: true }).click();
  await drag(page, await place(page, 0.5, 0.5), await place(page, 0.6, 0.5));
  await expect.poll(undo).toBe('Ramp 0.00 to 1.00');
  await stored(page);
  await way(/^Steps/);
  const steps = page.getByRole('list', { name: 'Steps', exact: true });
  await expect(steps.getByRole('listitem').first()).toContainText('Ramp 0.00 to 1.00');
  await expect(steps.getByRole('listitem').nth(1)).toContainText('Push depth');
  await left.getByLabel('Name of this version').fill('A round one');
  await left.getByRole('button', { name: 'Keep', exact: true }).click();
  const kept = page.getByRole('list', { name: 'Kept versions' });
  await expect(kept).toContainText('A round one');
  await stored(page);
  const plain = await look(page);
  await steps.getByRole('button', { name: 'Push depth to the left' }).click();
  const halves = await newLook(page, plain);
  await drag(page, await place(page, 0.5, 0.4), await place(page, 0.8, 0.4));
  const further = await newLook(page, halves);
  expect(await undo()).toBe('Keep A round one');
  await steps.getByRole('button', { name: 'Take up Push depth' }).click();
  await expect.poll(undo).toBe('Take up Push depth');
  await newLook(page, further);
  expect((await map()).equals(pushed)).toBe(true);
  await kept.getByRole('button', { name: 'Take up A round one' }).click();
  await expect.poll(undo).toBe('Take up A round one');
  await stored(page);
  await kept.getByRole('button', { name: 'Drop A round one' }).click();
  await expect(kept.getByRole('listitem')).toHaveCount(0);
  await back(first);
  expect(errors).toEqual([]);
});

test('the map is turned as a surface, and a spike that is found there is laid flat', async ({ page }) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const { undo, left, way, back } = await open(page);
  const first = await undo();
  // A thin stroke across the floor.
  await left.getByText('Nothing', { exact: true }).click();
  const size = left.getByRole('spinbutton', { name: /^Size/ });
  await size.fill('4');
  await size.press('Enter');
  const hardness = left.getByRole('spinbutton', { name: /^Hardness/ });
  await hardness.fill('100');
  await hardness.press('Enter');
  const depth = left.getByRole('spinbutton', { name: /^Depth/ });
  await depth.fill('0.2');
  await depth.press('Enter');
  await drag(page, await place(page, 0.5, 0.88), await place(page, 0.53, 0.88));
  await expect.poll(undo).toBe('Set depth 0.20');
  await stored(page);
  const flat = await look(page);
  await way(/^Relief/);
  const side = await newLook(page, flat);
  await expect(page.getByText(/^Cut along row/)).toBeVisible();
  await drag(page, await place(page, 0.5, 0.3), await place(page, 0.4, 0.35));
  const turned = await newLook(page, side);
  await left.getByRole('button', { name: 'From the front' }).click();
  await newLook(page, turned);
  const spikes = page.getByRole('list', { name: 'Spikes' });
  await expect(spikes.getByRole('listitem')).not.toHaveCount(0);
  /** How many there are in all; not all are listed. */
  const count = async (): Promise<number> => {
    if ((await left.getByText('No spikes:').count()) > 0) return 0;
    const words = await left.getByRole('button', { name: /^Flatten (it|all)/ }).textContent();
    return words === 'Flatten it' ? 1 : Number(/\d+/.exec(words ?? '')?.[0]);
  };
  const many = await count();
  await spikes.getByRole('button', { name: 'Show spike 1' }).click();
  await left.getByRole('button', { name: /^Flatten (it|all)/ }).click();
  await expect.poll(undo).toBe('Flatten spikes');
  await expect.poll(count, { message: 'fewer spikes are left' }).toBeLessThan(many);
  await stored(page);
  await back(first);
  expect(errors).toEqual([]);
});

test('a depth network of the user’s own is one more way to start; a broken one is refused by name', async ({
  page,
}) => {
  const folder = join(process.env.CORK_TEST_DATA!, 'networks');
  mkdirSync(folder, { recursive: true });
  const put = (name: string, file: Buffer): void => {
    writeFileSync(join(folder, `${name}.onnx`), file);
    writeFileSync(join(folder, `${name}.json`), JSON.stringify({ width: 64, height: 64, says: 'nearness' }));
  };
  put('walk-mean', meanOfChannels(64));
  put('walk-broken', Buffer.from('no network'));
  const errors = watch(page);
  const { left, undo, way, back } = await open(page);
  const first = await undo();
  await way(/^Start/);
  const before = await look(page);
  await left.getByRole('button', { name: 'Start with walk-mean.onnx' }).click();
  await expect.poll(undo).toBe('Depth by walk-mean.onnx');
  await newLook(page, before);
  await stored(page);
  await left.getByRole('button', { name: 'Start with walk-broken.onnx' }).click();
  await expect(page.getByText(/walk-broken\.onnx: It cannot be opened/)).toBeVisible();
  expect(await undo()).toBe('Depth by walk-mean.onnx');
  await back(first);
  for (const name of ['walk-mean', 'walk-broken'])
    for (const ending of ['onnx', 'json']) rmSync(join(folder, `${name}.${ending}`));
  expect(errors.filter((text) => !text.includes('422'))).toEqual([]);
});
