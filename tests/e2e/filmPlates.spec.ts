import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { discAt, discFilm, RADIUS } from '../support/discFilm';
import { HIGH, WIDE } from '../support/film';
import { drag, newLook, look, place, ready, shotOf, stage, stored, watch, way } from './room';

const dir = mkdtempSync(join(tmpdir(), 'cork-film-plates-'));
const COUNT = 8;

test('a plate of a film is outlined once, carried, corrected at a frame, and what it hides is borrowed from other frames', async ({
  page,
}) => {
  const errors = watch(page);
  await page.goto('/');
  await page.locator('.ct-left input[type=file]').setInputFiles({
    name: 'disc.mp4',
    mimeType: 'video/mp4',
    buffer: readFileSync(discFilm(join(dir, 'disc.mp4'), COUNT)),
  });
  await page.waitForURL(/\/shots\//);
  await ready(page);
  const id = /shots\/([0-9a-f-]+)/.exec(page.url())![1];
  await stage(page, 'Cut');
  const plain = await look(page);
  for (let k = 0; k < 8; k++) {
    const turn = (k / 8) * 2 * Math.PI;
    const [x, y] = [discAt(0)[0] + 1.08 * RADIUS * Math.cos(turn), discAt(0)[1] + 1.08 * RADIUS * Math.sin(turn)];
    const at = await place(page, x / WIDE, y / HIGH);
    await page.mouse.click(at.x, at.y);
  }
  await page.keyboard.press('Enter');
  await newLook(page, plain);
  await page.getByLabel('Name of the plate').fill('Disc');
  await page.getByRole('button', { name: 'Cut Disc' }).click();
  const card = page.getByRole('group', { name: 'Disc', exact: true });
  await expect(card).toBeVisible();
  await stored(page);

  // Between its keys a plate is not there until it is carried.
  const left = page.locator('.ct-left');
  await left.getByRole('button', { name: /^Over time/ }).click();
  const needle = page.getByRole('slider', { name: 'Frame', exact: true });
  await needle.focus();
  for (let n = 0; n < 5; n++) await page.keyboard.press('ArrowRight');
  await expect(card).toContainText('not carried to here');
  await page.getByRole('button', { name: 'Carry to 7 frames' }).click();
  await expect(page.getByText('Every frame has its plates and its depth.')).toBeVisible();
  await expect(card).not.toContainText('not carried to here');

  // What is handed out is the frame that is seen.
  await left.getByRole('button', { name: /^Hand out/ }).click();
  const address = await left.locator('a[href*="plates/matte"]').getAttribute('href');
  const { data, info } = await sharp(await (await page.request.get(address!)).body())
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  const covered = Array.from(data.keys()).filter((i) => data[i] >= 128);
  const across = covered.reduce((sum, i) => sum + (i % info.width), 0) / covered.length;
  expect(Math.abs(across - discAt(5)[0])).toBeLessThan(1.5);
  await left.getByRole('button', { name: /^Over time/ }).click();

  // A key there holds the outline where it was carried to; a corner is dragged, and it is cut anew.
  await page.getByRole('button', { name: 'Set a key at frame 6' }).click();
  await stored(page);
  await expect(page.getByRole('button', { name: 'Key of Disc at frame 6' })).toBeVisible();
  const carried = await look(page);
  await page.getByRole('button', { name: 'Take its choice up again' }).click();
  await newLook(page, carried);
  await left.getByRole('button', { name: 'outline', exact: true }).click();
  const corner = async (grow: number) => place(page, (discAt(5)[0] + grow * RADIUS) / WIDE, discAt(5)[1] / HIGH);
  await drag(page, await corner(1.08), await corner(1.5));
  await page.getByRole('button', { name: 'Cut Disc anew' }).click();
  await expect(page.getByText('Nothing is chosen yet.')).toBeVisible();
  await stored(page);
  const { keys } = (await shotOf(page, id)).document.plates[0];
  expect(keys.map(({ frame }) => frame)).toEqual([0, 5]);
  expect(keys[1].choice).not.toBe(keys[0].choice);
  await left.getByRole('button', { name: /^Over time/ }).click();
  // Depth goes around the plate: it is carried anew, too.
  await page.getByRole('button', { name: 'Carry to 7 frames' }).click();
  await expect(page.getByText('Every frame has its plates and its depth.')).toBeVisible();

  // What it hides is known from the frames before and after it.
  await stage(page, 'Fill');
  await left.getByRole('button', { name: /^Over time/ }).click();
  await page.getByRole('button', { name: 'Find it in 8 frames' }).click();
  await expect(page.getByText('What lies behind is known in every frame.')).toBeVisible();
  await expect(left.locator('dl')).toContainText('100 %');
  await way(page, 'Glasses');
  const glasses = await look(page);
  await needle.focus();
  await page.keyboard.press('ArrowLeft');
  await newLook(page, glasses);
  // On a film plates themselves are not filled, and it is said.
  await way(page, 'Picture');
  await card.click();
  await left.getByRole('button', { name: /^Clone/ }).click();
  await drag(page, await place(page, 0.5, 0.5), await place(page, 0.55, 0.5));
  await expect(page.getByText('On a film only the back plate is filled.')).toBeVisible();
  expect(errors).toEqual([]);
});
