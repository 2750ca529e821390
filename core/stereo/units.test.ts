import {
  comfortPx,
  fitIntoComfort,
  fromUnit,
  inUnit,
  parallaxArcmin,
  parallaxMm,
  PARALLAX_UNITS,
  perceivedDistanceMm,
} from './units';
import { depthOf, eyePositions, parallaxOf } from './parallax';

const desk = { widthMm: 518.4, distanceMm: 650, eyesMm: 65, comfortArcmin: 60 };

describe('units of parallax', () => {
  test('mm on the screen are the px’ share of its width', () => {
    expect(parallaxMm(16, 1600, desk)).toBeCloseTo(5.184, 10);
  });

  test('60 arcmin at 650 mm are 11.3449 mm: 2 V tan(0.5 degrees)', () => {
    // Worked by hand: tan(0.5 deg) = 0.00872687; 2 * 650 * 0.00872687 = 11.34493.
    expect(comfortPx(1600, desk).farPx).toBeCloseTo((11.34493 / 518.4) * 1600, 3);
    expect(parallaxArcmin(comfortPx(1600, desk).nearPx, 1600, desk)).toBeCloseTo(-60, 6);
  });

  test('perceived distance by similar triangles: e V / (e - p)', () => {
    // Half the eyes' distance behind the screen doubles the distance; as much before it gives two thirds.
    const halfEyes = (32.5 / 518.4) * 1600;
    expect(perceivedDistanceMm(halfEyes, 1600, desk)).toBeCloseTo(1300, 6);
    expect(perceivedDistanceMm(-halfEyes, 1600, desk)).toBeCloseTo(650 * (2 / 3), 6);
    expect(perceivedDistanceMm(0, 1600, desk)).toBe(650);
    expect(perceivedDistanceMm((65 / 518.4) * 1600, 1600, desk)).toBe(Infinity);
    expect(perceivedDistanceMm((66 / 518.4) * 1600, 1600, desk)).toBeNaN();
  });

  test('eyes are never asked to look apart, however far away the screen', () => {
    const hall = { widthMm: 6000, distanceMm: 9000, eyesMm: 65, comfortArcmin: 60 };
    expect(parallaxMm(comfortPx(2000, hall).farPx, 2000, hall)).toBeCloseTo(65, 9);
    expect(parallaxMm(comfortPx(2000, hall).nearPx, 2000, hall)).toBeCloseTo(-157.08, 1);
  });

  test.each(PARALLAX_UNITS)('there and back in %s', (unit) => {
    for (const px of [-40, -0.3, 0, 12, 77])
      expect(fromUnit(inUnit(px, unit, 1600, desk), unit, 1600, desk)).toBeCloseTo(px, 9);
  });

  test('a budget outside comfort is squeezed about the screen plane, one inside is left alone', () => {
    const fitted = fitIntoComfort({ nearPx: -70, farPx: 35 }, 1600, desk);
    expect(fitted.nearPx).toBeGreaterThanOrEqual(comfortPx(1600, desk).nearPx);
    expect(fitted.nearPx / fitted.farPx).toBeCloseTo(-2, 1);
    expect(depthOf(0, fitted)).toBeCloseTo(depthOf(0, { nearPx: -70, farPx: 35 }), 2);
    expect(fitIntoComfort({ nearPx: -20, farPx: 26 }, 1600, desk)).toEqual({ nearPx: -20, farPx: 26 });
  });
});

describe('parallax', () => {
  test('is linear in depth and turns back into it', () => {
    const budget = { nearPx: -40, farPx: 12 };
    expect(parallaxOf(1, budget)).toBe(-40);
    expect(parallaxOf(0, budget)).toBe(12);
    expect(depthOf(parallaxOf(0.37, budget), budget)).toBeCloseTo(0.37, 12);
    expect(depthOf(0, { nearPx: 5, farPx: 5 })).toBeNaN();
  });

  test('is that of a parallel rig with shifted sensors: B f (1/Zscreen - 1/Z)', () => {
    // Zn = 2 m, Zf = 10 m, screen at 4 m, B f = 100 px m.
    const p = (z: number): number => 100 * (1 / 4 - 1 / z);
    const budget = { nearPx: p(2), farPx: p(10) };
    for (const z of [2, 3, 4, 7, 10]) {
      const d = (1 / z - 1 / 10) / (1 / 2 - 1 / 10);
      expect(parallaxOf(d, budget)).toBeCloseTo(p(z), 10);
    }
  });

  test('eyes stand evenly, leftmost first', () => {
    expect(eyePositions(2)).toEqual([-0.5, 0.5]);
    expect(eyePositions(5)).toEqual([-0.5, -0.25, 0, 0.25, 0.5]);
    expect(eyePositions(1)).toEqual([0]);
    expect(() => eyePositions(0)).toThrow('must be a whole number from 1 to 200');
    expect(() => eyePositions(2.5)).toThrow('2.5');
  });
});
