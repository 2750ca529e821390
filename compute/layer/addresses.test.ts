import type { RasterNames } from '../look';
import { addressesAhead, addressesIn, placeOf, sizeOf, wholePlace } from './addresses';

const names: RasterNames = { media: 'm', depth: 'd', behind: null, fill: null, overpaint: null, plates: [] };
const partsOf = (address: string): Record<string, string> =>
  Object.fromEntries(new URL(address, 'http://house').searchParams);

describe('addresses of rasters', () => {
  test('a whole picture is asked for at preview size, never enlarged', () => {
    const [picture, depth] = addressesAhead('shot', { width: 12124, height: 8083 }, names);
    expect(picture.startsWith('/api/shots/shot/picture?')).toBe(true);
    const whole = { left: '0', top: '0', right: '12124', bottom: '8083' };
    // 8083 * 1280 / 12124 = 853.4
    expect(partsOf(picture)).toEqual({ media: 'm', ...whole, width: '1280', height: '853' });
    expect(partsOf(depth)).toEqual({ revision: 'd', ...whole, width: '1280', height: '853' });
    const [small] = addressesAhead('shot', { width: 300, height: 400 }, names);
    expect(partsOf(small)).toMatchObject({ width: '300', height: '400' });
  });

  test('what is fetched ahead is what the preview’s whole layer asks for', () => {
    const size = { width: 1600, height: 1000 };
    const at = addressesIn('shot', wholePlace(size, 1280));
    expect(addressesAhead('shot', size, names)).toEqual([at.picture({ media: 'm' }), at.depth('d')]);
  });

  test('a window has the size that its scale gives; a matte is asked for as one', () => {
    const place = placeOf({ left: 8, top: 16, right: 108, bottom: 17 }, 0.25);
    expect(sizeOf(place)).toEqual({ width: 25, height: 1 });
    const { matte, depth } = addressesIn('shot', place);
    expect(matte('r')).toBe(`${depth('r')}&as=matte`);
  });
});
