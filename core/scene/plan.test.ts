import { emptyPicture, pictureOf } from '../raster/picture';
import type { SceneFrame } from './sceneOf';
import { planOf } from './plan';

describe('a plan', () => {
  // 40 x 20 px; the back plate's depth grows from its top row (farthest) to its last one (nearest) over the ruler's lower half.
  const size = { width: 40, height: 20 };
  const grey = pictureOf(size, new Uint8Array(40 * 20 * 4).fill(255), 'premultiplied');
  const slope = new Uint16Array(40 * 20);
  for (let i = 0; i < slope.length; i++) slope[i] = Math.round((Math.floor(i / 40) / 19) * 65535);
  // A red card of 10 x 4 px, columns 20 to 29, rows 5 to 8, on one depth.
  const red = emptyPicture(grey, 40, 4);
  for (let y = 0; y < 4; y++) for (let x = 20; x < 30; x++) red.data.set([200, 0, 0, 255], (y * 40 + x) * 4);
  const surface = { tearPx: 2, tearSoftPx: 0 };
  const scene = {
    back: { near: 0.5, far: 0, ...surface },
    plates: [{ id: 'card', near: 0.8, far: 0.8, hidden: false, piece: null, ...surface }],
  } as unknown as SceneFrame;
  const rasters = {
    picture: grey,
    depth: { ...size, data: slope },
    plates: [
      {
        id: 'card',
        top: 5,
        columns: { left: 20, right: 30 },
        picture: red,
        depth: { width: 40, height: 4, data: new Uint16Array(160) },
      },
    ],
  };

  test('from above: columns across, depths along; the mean colour where there is any', () => {
    const [back, card] = planOf(rasters, scene, 'columns', { across: 20, along: 10 });
    expect([back.id, back.first, back.last]).toEqual([null, 0, 19]);
    const shows = (strip: typeof back, across: number): number[] =>
      Array.from({ length: 10 }, (_, n) => n).filter((n) => strip.data[(n * 20 + across) * 4 + 3] > 0);
    // The ruler's lower half begins at its far end.
    expect(shows(back, 3)).toEqual([0, 1, 2, 3, 4]);
    expect([card.id, card.first, card.last]).toEqual(['card', 10, 14]);
    expect(shows(card, 12)).toEqual([8]);
    expect([...card.data.subarray((8 * 20 + 12) * 4, (8 * 20 + 12) * 4 + 3)]).toEqual([200, 0, 0]);
  });

  test('from the side: rows across', () => {
    const [back, card] = planOf(rasters, scene, 'rows', { across: 20, along: 10 });
    expect([card.first, card.last]).toEqual([5, 8]);
    // Each row lies on one depth: the first at the far end, the last in the middle of the ruler.
    expect(back.data[3]).toBeGreaterThan(0);
    expect(back.data[(4 * 20 + 19) * 4 + 3]).toBeGreaterThan(0);
    expect(back.data[(4 * 20 + 0) * 4 + 3]).toBe(0);
  });
});
