import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { film, HIGH, numbered, WIDE } from '../support/film';
import { newLook, look, ready, shotOf, stage, stored, watch, way } from './room';

const dir = mkdtempSync(join(tmpdir(), 'cork-footage-'));
const COUNT = 36;

/** Numbered frames with a tone, coded with frames that refer to later ones. */
function filmWithSound(): string {
  const silent = film(join(dir, 'silent.mp4'), COUNT, '24', [
    ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-bf', '3', '-g', '40', '-crf', '14', '-colorspace', 'bt709'],
  ]);
  const path = join(dir, 'numbers.mp4');
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=1.5'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', silent, ...tone, '-c:v', 'copy', '-c:a', 'aac', path]);
  return path;
}

/** The number that is painted into what the picture shows. */
const numberShown = (page: Page): Promise<number> =>
  page.getByTestId('picture').evaluate((canvas) => {
    const { width, height } = canvas as HTMLCanvasElement;
    const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
    let n = 0;
    for (let bit = 0; bit < 12; bit++) {
      const [x, y] = [Math.floor(((bit + 0.5) / 12) * width), Math.floor(height / 4)];
      if (data[4 * (y * width + x)] > 128) n |= 1 << bit;
    }
    return n;
  });

async function bringIn(page: Page, path: string, name: string): Promise<string> {
  await page.goto('/');
  await page
    .locator('.ct-left input[type=file]')
    .setInputFiles({ name, mimeType: 'video/mp4', buffer: readFileSync(path) });
  await page.waitForURL(/\/shots\//);
  await ready(page);
  return /shots\/([0-9a-f-]+)/.exec(page.url())![1];
}

test('a film is brought in, stepped through to the frame, keyed, carried, seen through glasses and handed over with its sound', async ({
  page,
}) => {
  const errors = watch(page);
  const id = await bringIn(page, filmWithSound(), 'numbers.mp4');
  await stage(page, 'Source');
  await expect(page.locator('.ct-left')).toContainText('36 at 24 a second');
  await expect(page.locator('.ct-left')).toContainText('1.5 s, aac');
  await expect.poll(() => numberShown(page)).toBe(0);

  // A frame, ten, and back; each shows the number that was painted into it.
  await page.locator('.ct-viewer').click({ position: { x: 5, y: 5 } });
  for (const [key, frame] of [
    ['ArrowRight', 1],
    ['ArrowRight', 2],
    ['Shift+ArrowRight', 12],
    ['ArrowRight', 13],
    ['Shift+ArrowLeft', 3],
    ['ArrowLeft', 2],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByTestId('moment')).toHaveText(String(frame + 1));
    await expect.poll(() => numberShown(page)).toBe(frame);
  }
  // By the needle; where it rests the picture is the file's own, not the small one.
  const needle = page.getByRole('slider', { name: 'Frame', exact: true });
  await needle.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('moment')).toHaveText('23');
  await newLook(page, '');
  await expect.poll(() => numberShown(page)).toBe(22);

  // It plays, and is held where it is.
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByTestId('moment')).not.toHaveText('23');
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await expect
    .poll(async () => String((await numberShown(page)) + 1))
    .toBe(await page.getByTestId('moment').textContent());

  // In and out.
  await page.getByRole('slider', { name: 'Out: last frame' }).focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => (await shotOf(page, id)).document.footage?.range).toEqual({ first: 0, last: 25 });

  // A frame whose depth is carried takes no brush; a key there does.
  await stage(page, 'Depth');
  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Over time/ })
    .click();
  await needle.focus();
  for (let n = 0; n < 4; n++) await page.keyboard.press('Shift+ArrowLeft');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('moment')).toHaveText('12');
  await page.getByRole('button', { name: 'Set a key at frame 12' }).click();
  await stored(page);
  await expect(page.getByRole('button', { name: 'Depth key at frame 12' })).toBeVisible();
  await page.locator('.ct-left').getByRole('button', { name: /^Ramp/ }).click();
  const box = (await page.locator('.ct-viewer').boundingBox())!;
  const before = await look(page);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.7, { steps: 4 });
  await page.mouse.up();
  await newLook(page, before);
  await stored(page);
  const { document } = await shotOf(page, id);
  expect(document.footage!.keys.map(({ frame }) => frame)).toEqual([0, 11]);
  expect(document.footage!.keys[1].revision).not.toBe(document.footage!.keys[0].revision);

  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Over time/ })
    .click();
  await page.getByRole('button', { name: /^Carry depth to 34 frames/ }).click();
  await expect(page.getByText('Every frame has its depth.')).toBeVisible();
  await way(page, 'Glasses');
  const glasses = await look(page);
  await needle.focus();
  await page.keyboard.press('ArrowLeft');
  await newLook(page, glasses);

  // The budget changes over time: keyed where it is set, eased between.
  await stage(page, 'Stereo');
  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Over time/ })
    .click();
  await page.getByRole('button', { name: 'Begin a depth script' }).click();
  await expect(page.getByRole('slider', { name: /^Script key at frame 1,/ })).toBeVisible();
  await needle.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('moment')).toHaveText('21');
  await page
    .locator('.ct-left')
    .getByRole('button', { name: /^Budget/ })
    .click();
  const all = page.getByRole('spinbutton', { name: 'All depth' });
  await all.fill('3');
  await all.press('Enter');
  await expect(page.getByRole('slider', { name: /^Script key at frame 21,/ })).toBeVisible();
  await stored(page);
  const scripted = (await shotOf(page, id)).document.footage!.script;
  expect(scripted.map(({ frame, budget }) => [frame, budget.farPx - budget.nearPx > 3.2])).toEqual([
    [0, true],
    [20, false],
  ]);

  // In the script itself: its ends at the frame that is seen are dragged, and a key goes to another frame.
  const farthest = page.getByRole('slider', { name: /^Farthest at the frame/ });
  const farther = Number(await farthest.getAttribute('aria-valuenow'));
  const handle = (await farthest.boundingBox())!;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2 - 12, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number(await farthest.getAttribute('aria-valuenow'))).toBeGreaterThan(farther + 0.5);
  await page.getByRole('slider', { name: /^Script key at frame 21,/ }).press('Alt+ArrowLeft');
  await expect(page.getByRole('slider', { name: /^Script key at frame 20,/ })).toBeVisible();
  await expect(page.getByTestId('moment')).toHaveText('20');
  await stored(page);
  const moved = (await shotOf(page, id)).document.footage!.script;
  expect(moved.map(({ frame }) => frame)).toEqual([0, 19]);
  expect(moved[1].budget.farPx).toBeGreaterThan(scripted[1].budget.farPx + 0.5);

  await stage(page, 'Output');
  await page.getByRole('button', { name: /^Video/ }).click();
  await expect(page.locator('.ct-left')).toContainText('384 × 128 px, 26 frames, 1.1 s, with its sound.');
  await page.getByRole('button', { name: 'Render video' }).click();
  const first = page.getByTestId('render').first();
  await expect(first).toHaveAttribute('data-state', 'done');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    first.getByTitle(/^film-side-by-side\.mp4/).click(),
  ]);
  const probe = (stream: string, entries: string): string =>
    execFileSync(
      'ffprobe',
      ['-v', 'error', '-select_streams', stream, '-show_entries', `stream=${entries}`, '-of', 'csv=p=0', path],
      { encoding: 'utf8' },
    ).trim();
  const path = await download.path();
  expect(probe('v:0', 'width,height,nb_frames,r_frame_rate')).toBe('384,128,24/1,26');
  expect(probe('a:0', 'codec_name')).toBe('aac');
  // Packets of sound are 23 ms long.
  expect(Math.abs(Number(probe('a:0', 'duration')) - 26 / 24)).toBeLessThan(0.05);
  expect(errors).toEqual([]);
});

test('numbered pictures come in as one film; what is no film says so', async ({ page }) => {
  const frames = await Promise.all(
    Array.from({ length: 8 }, async (_, n) => ({
      name: `take ${n + 1}.png`,
      mimeType: 'image/png',
      buffer: await sharp(numbered(n), { raw: { width: WIDE, height: HIGH, channels: 3 } })
        .png()
        .toBuffer(),
    })),
  );
  await page.goto('/');
  await page.locator('.ct-left input[type=file]').setInputFiles(frames);
  await page.getByRole('button', { name: 'One film' }).click();
  await page.waitForURL(/\/shots\//);
  await ready(page);
  await stage(page, 'Source');
  await expect(page.locator('.ct-left')).toContainText('8 at 24 a second');
  await page.locator('.ct-viewer').click({ position: { x: 5, y: 5 } });
  for (let n = 0; n < 7; n++) await page.keyboard.press('ArrowRight');
  await expect.poll(() => numberShown(page)).toBe(7);
  await page.goto('/');
  const whole = readFileSync(filmWithSound());
  await page.locator('.ct-left input[type=file]').setInputFiles({
    name: 'half.mp4',
    mimeType: 'video/mp4',
    buffer: whole.subarray(0, whole.length / 2),
  });
  await expect(page.locator('.ct-refused')).toContainText(/half\.mp4 cannot be read: it is cut off or damaged/);
});
