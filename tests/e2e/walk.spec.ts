import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import {
  drag,
  look,
  newLook,
  openShot,
  otherLook,
  place,
  ready,
  shotOf,
  stage,
  stored,
  takeBack,
  watch,
  way,
} from './room';

test('the demo opens from the desk, ready to be looked at in depth, without an error', async ({ page }) => {
  const errors = watch(page);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Winter catalogue' })).toBeVisible();
  for (const name of ['Orangery', 'Column and lantern']) {
    const image = page.locator('.ct-shot', { hasText: name }).first().locator('img');
    await expect.poll(() => image.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBeGreaterThan(100);
  }
  await openShot(page, 'Orangery');
  await expect(page.getByRole('radio', { name: 'Glasses' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByTestId('revealed')).toContainText('%');
  // Red and cyan part at every depth that is off the screen: the picture holds strongly coloured rims.
  const coloured = await page.evaluate(() => {
    const c = document.querySelector('canvas')!;
    const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
    let n = 0;
    for (let i = 0; i < data.length; i += 4) if (Math.abs(data[i] - data[i + 1]) > 70) n++;
    return n / (c.width * c.height);
  });
  expect(coloured).toBeGreaterThan(0.005);
  // What was fetched ahead is what the worker asks for: it finds it in the browser's own store.
  const ahead = page.locator('link[rel=prefetch][as=fetch]');
  const wanted = await ahead.evaluateAll((links) => links.map((link) => (link as HTMLLinkElement).href));
  const asked = await Promise.all(
    page.workers().map((worker) => worker.evaluate(() => performance.getEntriesByType('resource').map((e) => e.name))),
  );
  expect(wanted).toHaveLength(2);
  expect(asked.flat()).toEqual(expect.arrayContaining(wanted));
  expect(errors).toEqual([]);
});

test('every way to see shows its own picture; holding E shows the other eye', async ({ page }) => {
  await openShot(page);
  const seen = new Set([await look(page)]);
  for (const name of ['Picture', 'Depth', 'Depth over picture', 'Left', 'Right', 'Both']) {
    const before = await look(page);
    await way(page, name);
    seen.add(await newLook(page, before));
  }
  expect(seen.size).toBe(7);
  const both = await look(page);
  await page.keyboard.press('4');
  await expect(page.getByRole('radio', { name: 'Left', exact: true })).toHaveAttribute('aria-checked', 'true');
  const left = await newLook(page, both);
  await page.keyboard.down('e');
  const right = await newLook(page, left);
  await page.keyboard.up('e');
  await expect.poll(() => look(page)).toBe(left);
  await page.keyboard.press('5');
  await expect.poll(() => look(page)).toBe(right);
  await way(page, 'Rock');
  const a = await look(page);
  await otherLook(page, await otherLook(page, a));
});

test('the sheet of keys opens with ? and closes with Escape', async ({ page }) => {
  await openShot(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
});

test('edges are parted, or left mixed: each shows at once, is stored, and can be undone', async ({ page }) => {
  const id = await openShot(page);
  await way(page, 'Right');
  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Edges/ })
    .click();
  const parted = await look(page);
  const part = page.getByRole('switch', { name: 'Part mixed edges' });
  await expect(part).toBeChecked();
  await part.click();
  const mixed = await newLook(page, parted);
  await stored(page);
  expect((await shotOf(page, id)).document).toMatchObject({ partEdges: false });
  await takeBack(page, id, () => page.keyboard.press('Control+z'));
  await expect.poll(() => look(page)).toBe(parted);
  expect(mixed).not.toBe(parted);
  await expect(part).toBeChecked();
});

test('a budget is typed, dragged and nudged; each shows at once, is stored, and can be undone after the page is closed', async ({
  page,
  context,
}) => {
  const id = await openShot(page);
  const start = await look(page);
  const {
    document: { budget },
  } = await shotOf(page, id);
  const near = page.getByLabel('Nearest, parallax in px');
  await near.fill('-22.5');
  const typed = await newLook(page, start);
  await near.press('Enter');
  await stored(page);
  expect((await shotOf(page, id)).document.budget).toEqual({ ...budget, nearPx: -22.5 });

  const tag = (await page.getByRole('slider', { name: 'Screen plane', exact: true }).last().boundingBox())!;
  await drag(page, { x: tag.x + 20, y: tag.y + 10 }, { x: tag.x + 20, y: tag.y - 90 });
  const dragged = await newLook(page, typed);
  await stored(page);
  const after = (await shotOf(page, id)).document.budget;
  expect(after.farPx - after.nearPx).toBeCloseTo(budget.farPx + 22.5, 0);
  expect(after.farPx).toBeLessThan(budget.farPx - 2);

  const screen = page.locator('.ct-screen-tag');
  const plane = (): Promise<string | null> => screen.getAttribute('aria-valuenow');
  const whereDragged = await plane();
  await screen.focus();
  await page.keyboard.press('ArrowDown');
  await newLook(page, dragged);
  await stored(page);
  const whereNudged = await plane();
  expect(whereNudged).not.toBe(whereDragged);
  // What was under the hand gives way to what the shot says when that is taken back.
  await page.keyboard.press('Control+z');
  await expect.poll(plane).toBe(whereDragged);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(plane).toBe(whereNudged);
  await stored(page);
  await page.close();

  const again = await context.newPage();
  await again.goto(`/shots/${id}`);
  await ready(again);
  for (let n = 0; n < 3; n++) {
    await takeBack(again, id, () => again.keyboard.press('Control+z'));
  }
  expect((await shotOf(again, id)).document.budget).toEqual(budget);
  await expect.poll(() => look(again)).toBe(start);
  await again.keyboard.press('Control+Shift+z');
  await expect.poll(async () => (await shotOf(again, id)).document.budget.nearPx).toBe(-22.5);
  await again.keyboard.press('Control+z');
  await expect.poll(async () => (await shotOf(again, id)).document.budget).toEqual(budget);
});

test('a stroke, a ramp and an outline change the depth where they were drawn, and undo takes each back', async ({
  page,
}) => {
  const id = await openShot(page);
  await stage(page, 'Depth');
  const glasses = await look(page);
  await way(page, 'Depth');
  const start = await newLook(page, glasses);
  const readDepth = async (u: number, v: number): Promise<number> => {
    const { data, info } = await sharp(await (await page.request.get(`/api/shots/${id}/depth/export`)).body())
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    return data.readUInt16LE(
      (Math.floor(v * info.height) * info.width + Math.floor(u * info.width)) * 2 * info.channels,
    );
  };
  const before = await readDepth(0.2, 0.2);
  await drag(page, await place(page, 0.15, 0.2), await place(page, 0.25, 0.2));
  const painted = await newLook(page, start);
  await stored(page);
  expect(await readDepth(0.2, 0.2)).toBe(Math.round(0.7 * 65535));

  await page.getByRole('button', { name: /^Outline/ }).click();
  for (const [u, v] of [
    [0.7, 0.7],
    [0.9, 0.7],
    [0.8, 0.9],
  ]) {
    const p = await place(page, u, v);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press('Enter');
  await newLook(page, painted);
  await stored(page);
  expect(await readDepth(0.8, 0.75)).toBe(Math.round(0.7 * 65535));

  await page.getByRole('button', { name: /^Ramp/ }).click();
  await drag(page, await place(page, 0.5, 0.02), await place(page, 0.5, 0.98));
  await stored(page);
  expect((await readDepth(0.1, 0.5)) / 65535).toBeCloseTo(0.5, 1);

  for (let n = 0; n < 3; n++) await takeBack(page, id, () => page.getByRole('button', { name: 'Undo' }).click());
  expect(await readDepth(0.2, 0.2)).toBe(before);
  await expect.poll(() => look(page)).toBe(start);
});

test('the pen’s pressure sets the strength', async ({ page }) => {
  const id = await openShot(page);
  await stage(page, 'Depth');
  await way(page, 'Depth');
  const session = await page.context().newCDPSession(page);
  const depthHere = async (): Promise<number> => {
    const { data, info } = await sharp(await (await page.request.get(`/api/shots/${id}/depth/export`)).body())
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    return (
      data.readUInt16LE(
        (Math.floor(0.05 * info.height) * info.width + Math.floor(0.53 * info.width)) * 2 * info.channels,
      ) / 65535
    );
  };
  const before = await depthHere();
  const from = await place(page, 0.45, 0.05);
  const to = await place(page, 0.6, 0.05);
  const pen = (type: string, p: { x: number; y: number }) =>
    session.send('Input.dispatchMouseEvent', {
      type: type as 'mousePressed',
      ...p,
      button: 'left',
      buttons: 1,
      clickCount: 1,
      pointerType: 'pen',
      force: 0.5,
    });
  await pen('mousePressed', from);
  for (let n = 1; n <= 6; n++) await pen('mouseMoved', { x: from.x + ((to.x - from.x) * n) / 6, y: from.y });
  await pen('mouseReleased', to);
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('Set depth 0.70');
  await stored(page);
  // Half pressure goes half the way from what was there to 0.7. The map rounds to 1/65535, coverage too; a force is
  // told in 1/1023.
  const rounding = Math.abs(0.7 - before) / 1023 + 2 / 65535;
  expect(Math.abs((await depthHere()) - (before + (0.7 - before) / 2))).toBeLessThanOrEqual(rounding);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await shotOf(page, id)).undo).not.toBe('Set depth 0.70');
});

test('painting where it cannot land says why', async ({ page }) => {
  const id = await openShot(page);
  await stage(page, 'Depth');
  await way(page, 'Left');
  const { head } = await shotOf(page, id);
  await drag(page, await place(page, 0.4, 0.4), await place(page, 0.5, 0.4));
  await expect(page.getByText('Depth is painted on the source')).toBeVisible();
  expect((await shotOf(page, id)).head).toBe(head);
});

test('zoom to the pixel fetches the source’s own pixels', async ({ page }) => {
  await openShot(page, 'Orangery');
  await way(page, 'Picture');
  const detail = page.waitForResponse(
    (r) => r.url().includes('/picture?') && !r.url().includes('width=1280') && !r.url().includes('width=236'),
  );
  await page.getByRole('button', { name: 'pixels' }).click();
  const url = new URL((await detail).url());
  const [left, top, right, width] = ['left', 'top', 'right', 'width'].map((k) => Number(url.searchParams.get(k)));
  expect(width).toBe(right - left);
  await expect(page.getByText('Zoom 100 %')).toBeVisible();
  // What is shown is the source, pixel for pixel, at its own place and one pixel on one of the screen.
  const detailed = page.getByTestId('detail');
  await expect(detailed).toBeVisible();
  const shown = await detailed.evaluate((canvas: HTMLCanvasElement) => ({
    data: [...canvas.getContext('2d')!.getImageData(100, 80, 64, 64).data],
    wide: canvas.width,
    across: canvas.getBoundingClientRect().width,
  }));
  expect(shown).toMatchObject({ wide: width, across: width });
  const { data } = await sharp('demo/orangery/centre.png')
    .extract({ left: left + 100, top: top + 80, width: 64, height: 64 })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect(shown.data).toEqual([...data]);
});

test('left, right and an anaglyph are rendered at full size and fetched', async ({ page }) => {
  await openShot(page, 'Orangery');
  await stage(page, 'Output');
  await page.getByRole('button', { name: 'Render left and right' }).click();
  const first = page.getByTestId('render').first();
  await expect(first).toHaveAttribute('data-state', 'done');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    first.getByRole('link', { name: 'right.png' }).click(),
  ]);
  const file = readFileSync(await download.path());
  expect(await sharp(file).metadata()).toMatchObject({ width: 1600, height: 1000, format: 'png' });
  const [zip] = await Promise.all([page.waitForEvent('download'), first.getByRole('link', { name: 'zip' }).click()]);
  const bytes = readFileSync(await zip.path());
  expect(bytes.subarray(0, 4).toString('latin1')).toBe('PK\x03\x04');
  expect(bytes.includes(Buffer.from('left.png')) && bytes.includes(file)).toBe(true);
  const part = await page.request.get(new URL(download.url()).pathname, { headers: { range: 'bytes=100-199' } });
  expect(part.status()).toBe(206);
  expect((await part.body()).equals(file.subarray(100, 200))).toBe(true);
});

test('a sheet says its numbers, refuses impossible ones, and is rendered', async ({ page }) => {
  await openShot(page);
  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Lenticular sheet/ }).click();
  await page.getByLabel('Lens pitch').fill('400');
  await page.getByLabel('Printer').fill('500');
  await page.getByLabel('Printer').blur();
  await expect(page.locator('.ct-left').getByRole('alert')).toContainText('only 1.25 columns under a lens');
  await expect(page.getByRole('button', { name: 'Render sheet' })).toBeDisabled();
  await page.getByLabel('Lens pitch').fill('60.25');
  await page.getByLabel('Printer').fill('600');
  await page.getByLabel('Width', { exact: true }).fill('50');
  await page.getByLabel('Width', { exact: true }).blur();
  await expect(page.getByText('9.959')).toBeVisible();
  await stored(page);
  await page.getByRole('button', { name: 'Render sheet' }).click();
  const first = page.getByTestId('render').first();
  await expect(first).toHaveAttribute('data-state', 'done');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    first.getByRole('link', { name: 'Sheet.tif' }).click(),
  ]);
  expect(await sharp(await download.path()).metadata()).toMatchObject({ width: 1181, density: 600 });
});
