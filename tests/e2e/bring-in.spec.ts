import { request as httpRequest } from 'node:http';
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { openShot, ready, shotOf, stage, takeBack, watch } from './room';

const picture = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: { r: 90, g: 140, b: 60 } } });

test('a picture chosen by button becomes a shot, opens at its first step, and is flat on the screen', async ({
  page,
}) => {
  const errors = watch(page);
  await page.goto('/');
  await page
    .locator('.ct-left input[type=file]')
    .setInputFiles({ name: 'meadow.jpg', mimeType: 'image/jpeg', buffer: await picture(640, 480).jpeg().toBuffer() });
  await page.waitForURL(/\/shots\//);
  await ready(page);
  await expect(page.getByText('meadow', { exact: true })).toBeVisible();
  await expect(page.getByText('This picture is flat so far')).toBeVisible();
  await stage(page, 'Stereo');
  await expect(page.getByTestId('revealed')).toContainText('0.00 %');
  expect(errors).toEqual([]);
});

test('16 bit, grey, transparent and tiny pictures all open', async ({ page }) => {
  const clear = await sharp({
    create: { width: 200, height: 120, channels: 4, background: { r: 200, g: 0, b: 0, alpha: 0.5 } },
  })
    .png()
    .toBuffer();
  const files = [
    ['deep.tif', await picture(300, 200).toColourspace('rgb16').tiff().toBuffer()],
    ['grey.png', await picture(300, 200).greyscale().toColourspace('b-w').png().toBuffer()],
    ['clear.png', clear],
    ['tiny.png', await picture(1, 1).png().toBuffer()],
    ['strip.png', await picture(2000, 3).png().toBuffer()],
  ] as const;
  for (const [name, buffer] of files) {
    await page.goto('/');
    await page.locator('.ct-left input[type=file]').setInputFiles({ name, mimeType: 'image/png', buffer });
    await page.waitForURL(/\/shots\//);
    await ready(page);
  }
});

test('pictures dropped on a project hang there; what is refused says why and what helps', async ({ page }) => {
  await page.goto('/');
  const good = [...(await picture(320, 200).png().toBuffer())];
  const bad = [...Buffer.from('no picture, whatever the name says')];
  const data = await page.evaluateHandle(
    ([g, b]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(g)], 'dropped.png', { type: 'image/png' }));
      transfer.items.add(new File([new Uint8Array(b)], 'letter.png', { type: 'image/png' }));
      return transfer;
    },
    [good, bad],
  );
  await page.locator('.ct-project').first().dispatchEvent('drop', { dataTransfer: data });
  await expect(page.getByLabel('Open dropped').last()).toBeVisible();
  await expect(
    page.getByRole('alert').filter({ hasText: 'letter.png is not a picture that can be read here' }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Understood' }).click();
  await expect(page.getByText('letter.png is not')).toBeHidden();
});

test('a picture that is cut off is refused and leaves no shot behind', async ({ page }) => {
  await page.goto('/');
  const count = await page.locator('.ct-shot').count();
  const cut = readFileSync('demo/lantern/centre.png').subarray(0, 200_000);
  await page
    .locator('.ct-left input[type=file]')
    .setInputFiles({ name: 'cut.png', mimeType: 'image/png', buffer: cut });
  await expect(page.getByRole('alert').filter({ hasText: 'cut.png' })).toContainText('cut off or damaged');
  await page.reload();
  await expect(page.locator('.ct-shot')).toHaveCount(count);
});

test('an upload whose connection breaks leaves nothing', async ({ page, baseURL }) => {
  await page.goto('/');
  const count = await page.locator('.ct-shot').count();
  const desk = (await (await page.request.get('/api/projects')).json()) as { projects: { id: string }[] };
  const whole = readFileSync('demo/lantern/centre.png');
  await new Promise<void>((done) => {
    const upload = httpRequest(`${baseURL}/api/projects/${desk.projects[0].id}/shots`, {
      method: 'POST',
      headers: { 'content-length': whole.length, 'x-file-name': 'broken.png' },
    });
    upload.on('error', () => {
      done();
    });
    // Broken off once the server has part of it.
    upload.write(whole.subarray(0, 100_000), () => {
      upload.destroy();
    });
  });
  await page.reload();
  await expect(page.locator('.ct-shot')).toHaveCount(count);
});

test('a depth picture comes in at another size, goes out as it is stored, and other proportions are refused with both sizes', async ({
  page,
}) => {
  const id = await openShot(page);
  await stage(page, 'Depth');
  await page.getByRole('button', { name: /^Bring in/ }).click();
  const values = Uint16Array.from({ length: 960 * 600 }, (_, i) => (i * 37) & 65535);
  const same = await sharp(values, { raw: { width: 960, height: 600, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  await page
    .locator('.ct-left input[type=file]')
    .setInputFiles({ name: 'exact.png', mimeType: 'image/png', buffer: same });
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('Depth from exact.png');
  const out = await sharp(await (await page.request.get(`/api/shots/${id}/depth/export`)).body())
    .toColourspace('grey16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  expect(out.equals(Buffer.from(values.buffer))).toBe(true);

  await page.locator('.ct-left input[type=file]').setInputFiles({
    name: 'small.png',
    mimeType: 'image/png',
    buffer: await picture(480, 300).greyscale().png().toBuffer(),
  });
  await expect.poll(async () => (await shotOf(page, id)).undo).toBe('Depth from small.png');
  await page
    .locator('.ct-left input[type=file]')
    .setInputFiles({ name: 'square.png', mimeType: 'image/png', buffer: await picture(600, 600).png().toBuffer() });
  await expect(page.getByText('square.png is 600 × 600 px but the picture is 960 × 600 px')).toBeVisible();
  for (let n = 0; n < 2; n++) await takeBack(page, id, () => page.keyboard.press('Control+z'));
  await expect.poll(async () => String((await shotOf(page, id)).undo)).not.toContain('png');
});

test('foreign hosts and origins are refused, also for uploads', async ({ baseURL }) => {
  const port = new URL(baseURL!).port;
  const status = (path: string, method: string, headers: Record<string, string>): Promise<number> =>
    new Promise((done, failed) => {
      const r = httpRequest({ host: '127.0.0.1', port, path, method, headers }, (a) => {
        a.resume();
        done(a.statusCode ?? 0);
      });
      r.on('error', failed);
      r.end();
    });
  const upload = '/api/projects/7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11/shots';
  for (const [path, method] of [
    ['/', 'GET'],
    ['/api/projects', 'GET'],
    ['/api/projects', 'POST'],
    [upload, 'POST'],
    ['/api/shots/7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11/depth/import', 'POST'],
    ['/cork.webp', 'GET'],
  ]) {
    expect(await status(path, method, { host: 'evil.example' })).toBe(403);
    expect(await status(path, method, { host: `127.0.0.1:${port}`, origin: 'http://evil.example' })).toBe(403);
  }
  expect(await status('/', 'GET', { host: `localhost:${port}` })).toBe(200);
});

test('addresses that name nothing say so', async ({ page }) => {
  const answer = await page.goto('/shots/7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11');
  expect(answer!.status()).toBe(404);
  await expect(page.getByText('This is not here')).toBeVisible();
  expect(await (await page.request.get('/api/shots/nonsense')).json()).toMatchObject({
    status: 404,
    code: 'not-found',
  });
  expect(
    (await page.request.post('/api/projects', { data: '{', headers: { 'content-type': 'application/json' } })).status(),
  ).toBe(400);
});
