import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { crc32 } from '@/server/media/crc32';
import { decodeToRaster, readRaster } from '@/server/media/decode';
import { focalLengthOf } from '@/server/media/focalLength';
import { inspectPicture } from '@/server/media/inspect';
import { cleanName } from '@/server/media/upload';
import { ROOT, scratch } from '../support/cli';

const dir = scratch();
const at = (name: string): string => join(dir, name);
const inspect = (name: string) => inspectPicture(at(name), name);
const base = () => sharp({ create: { width: 60, height: 40, channels: 3, background: { r: 200, g: 40, b: 40 } } });

/** A PNG with extra chunks before its pixels. */
function withChunk(png: Buffer, type: string, body: Buffer): Buffer {
  const chunk = Buffer.alloc(body.length + 12);
  chunk.writeUInt32BE(body.length, 0);
  chunk.write(type, 4, 'latin1');
  body.copy(chunk, 8);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 8 + body.length)), 8 + body.length);
  return Buffer.concat([png.subarray(0, 33), chunk, png.subarray(33)]);
}

describe('pictures that come in', () => {
  test.each([
    ['png', 8],
    ['jpeg', 8],
    ['webp', 8],
    ['avif', 8],
    ['tiff', 8],
  ] as const)('%s is read by its header', async (format, bits) => {
    await base()
      .toFormat(format)
      .toFile(at(`a.${format}`));
    expect(await inspect(`a.${format}`)).toMatchObject({ format, width: 60, height: 40, bits, hasAlpha: false });
  });

  test('16 bit, grey and transparent ones say so', async () => {
    await base().toColourspace('rgb16').png().toFile(at('deep.png'));
    await base().greyscale().toColourspace('b-w').png().toFile(at('grey.png'));
    await base().ensureAlpha(0.5).png().toFile(at('clear.png'));
    expect(await inspect('deep.png')).toMatchObject({ bits: 16 });
    expect(await inspect('grey.png')).toMatchObject({ grey: true, bits: 8 });
    expect(await inspect('clear.png')).toMatchObject({ hasAlpha: true });
  });

  test('a photograph lying on its side stands up', async () => {
    const pixels = Buffer.alloc(60 * 40 * 3);
    pixels.fill(255, 0, 60 * 3 * 20); // upper half white
    await sharp(pixels, { raw: { width: 60, height: 40, channels: 3 } })
      .withMetadata({ orientation: 6 })
      .jpeg({ quality: 100 })
      .toFile(at('side.jpg'));
    expect(await inspect('side.jpg')).toMatchObject({
      width: 40,
      height: 60,
      told: expect.stringContaining('turned as its orientation says') as string,
    });
    await decodeToRaster(at('side.jpg'), at('side.v'), 8, 'side.jpg');
    const { width, height, data } = await readRaster(at('side.v'), 8);
    expect([width, height]).toEqual([40, 60]);
    // Turned by 90 degrees clockwise (EXIF orientation 6), the upper half becomes the right one.
    expect(data[(30 * 40 + 5) * 4]).toBeLessThan(10);
    expect(data[(30 * 40 + 35) * 4]).toBeGreaterThan(245);
  });

  test('a wide gamut is converted by its profile, not misread', async () => {
    await base().withIccProfile('p3').png().toFile(at('p3.png'));
    const stored = await sharp(at('p3.png'), { ignoreIcc: true }).raw().toBuffer();
    expect(stored[0]).not.toBe(200); // the same colour has other numbers in Display P3
    await decodeToRaster(at('p3.png'), at('p3.v'), 8, 'p3.png');
    const { data } = await readRaster(at('p3.v'), 8);
    expect((await inspect('p3.png')).told).toContain('converted to sRGB');
    [200, 40, 40].forEach((v, c) => {
      expect(Math.abs(data[c] - v)).toBeLessThanOrEqual(2);
    });
  });

  test('colours that would be misread are refused with what helps', async () => {
    const png = await base().png().toBuffer();
    // ITU-T H.273: primaries 9 and transfer 16 are BT.2100 PQ.
    writeFileSync(at('pq.png'), withChunk(png, 'cICP', Buffer.from([9, 16, 0, 1])));
    await expect(inspect('pq.png')).rejects.toThrow(/colours by code .*9.*16.*Save it with an embedded ICC profile/);
    const gamma = Buffer.alloc(4);
    gamma.writeUInt32BE(100000);
    writeFileSync(at('linear.png'), withChunk(png, 'gAMA', gamma));
    await expect(inspect('linear.png')).rejects.toThrow('a gamma of 1.000');
    writeFileSync(at('srgb.png'), withChunk(png, 'cICP', Buffer.from([1, 13, 0, 1])));
    await expect(inspect('srgb.png')).resolves.toMatchObject({ width: 60 });
  });
});

describe('the lens that took it', () => {
  // Values as they stand in files; what they mean follows from EXIF 2.32 and CIPA DCG-001 in the comments.
  const taken = async (name: string, photo: Record<string, string>): Promise<number | undefined> => {
    await base().withExif({ IFD2: photo }).jpeg().toFile(at(name));
    return (await inspect(name)).focalPx;
  };

  test('by the length for 24 x 36 mm, whose diagonal is 43.27 mm', async () => {
    // 60 x 40 px have a diagonal of 72.11 px: a lens of 35 mm is 58.3 px long.
    expect(await taken('35.jpg', { FocalLengthIn35mmFilm: '35' })).toBe(58.3);
  });

  test('by the length on the sensor, also where the picture was made smaller since', async () => {
    // 50 mm at 14 px a cm are 70 px.
    const photo = { FocalLength: '50/1', FocalPlaneXResolution: '14/1', FocalPlaneResolutionUnit: '3' };
    expect(await taken('50.jpg', photo)).toBe(70);
    // Taken 84 px wide, it is 50 px long now. Tag 0xa002 holds the width, as a long number or a short one.
    const { exif } = await sharp(at('50.jpg')).metadata();
    const tag = exif!.indexOf(Buffer.from([0x02, 0xa0]));
    exif!.writeUInt16LE(84, tag + 8);
    expect(focalLengthOf(exif, 60, 40)).toBe(50);
  });

  test('nothing, or nonsense, is nobody’s lens', async () => {
    await base().jpeg().toFile(at('none.jpg'));
    expect((await inspect('none.jpg')).focalPx).toBeUndefined();
    expect(await taken('zero.jpg', { FocalLengthIn35mmFilm: '0', FocalLength: '50/1' })).toBeUndefined();
    expect(await taken('moon.jpg', { FocalLengthIn35mmFilm: '60000' })).toBeUndefined();
    expect(focalLengthOf(Buffer.from('Exif broken'), 60, 40)).toBeUndefined();
  });
});

describe('what is refused, each with its sentence', () => {
  test('no picture, an empty file, a picture of another kind', async () => {
    writeFileSync(at('text.png'), 'Dear customer, the picture follows.');
    writeFileSync(at('empty.png'), '');
    await base().gif().toFile(at('a.gif'));
    await expect(inspect('text.png')).rejects.toMatchObject({
      status: 415,
      message: expect.stringContaining('not a picture that can be read here'),
    });
    await expect(inspect('empty.png')).rejects.toThrow('is empty (0 bytes)');
    await expect(inspect('a.gif')).rejects.toThrow('GIF, which cannot be read here');
  });

  test('too many pixels, from the header alone: the file has hardly any bytes', async () => {
    const png = await base().png().toBuffer();
    png.writeUInt32BE(20000, 16);
    png.writeUInt32BE(20000, 20);
    png.writeUInt32BE(crc32(png.subarray(12, 29)), 29);
    writeFileSync(at('huge.png'), png);
    expect(statSync(at('huge.png')).size).toBeLessThan(1000);
    await expect(inspect('huge.png')).rejects.toThrow('20000 × 20000 px, that is 400 megapixels; at most 100');
  });

  test('animated ones and many pages', async () => {
    const frames = Buffer.alloc(60 * 80 * 3, 90);
    frames.fill(200, 60 * 40 * 3);
    await sharp(frames, { raw: { width: 60, height: 80, channels: 3, pageHeight: 40 } })
      .webp({ loop: 0, delay: [100, 100] })
      .toFile(at('moving.webp'));
    await expect(inspect('moving.webp')).rejects.toThrow('is animated. A shot begins with a still');
    writeFileSync(at('moving.png'), withChunk(await base().png().toBuffer(), 'acTL', Buffer.alloc(8)));
    await expect(inspect('moving.png')).rejects.toThrow('is animated');
  });

  test.each(['png', 'jpeg', 'tiff', 'webp', 'avif'] as const)('a %s that is cut off', async (format) => {
    const whole = await sharp(join(ROOT, 'demo/lantern/centre.png')).toFormat(format).toBuffer();
    writeFileSync(at(`cut.${format}`), whole.subarray(0, Math.floor(whole.length * 0.6)));
    const tried = inspect(`cut.${format}`).then((h) =>
      decodeToRaster(at(`cut.${format}`), at('cut.v'), h.bits, `cut.${format}`),
    );
    await expect(tried).rejects.toThrow(/cut off or damaged/);
    expect(() => readFileSync(at('cut.v'))).toThrow('ENOENT');
  });
});

test('names of files lose their folders and nothing else', () => {
  expect(cleanName(encodeURIComponent('C:\\pictures\\Äpfel & Birnen.png'))).toBe('Äpfel & Birnen.png');
  expect(cleanName('..%2F..%2Fetc%2Fpasswd')).toBe('passwd');
  expect(cleanName('%E0%A4%A')).toBe('picture');
  expect(cleanName(null)).toBe('picture');
});
