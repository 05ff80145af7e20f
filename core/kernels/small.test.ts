import { IN, IN2, LINE, N, OUT, SMALL, TABLE, both, bytesIn, expectSame } from '../test/twins';
import { pyramidFor } from '../src/pixels/pyramid';

describe('kernels of small images and their twins', () => {
  it('halve', () => expectSame((k) => k.halve(OUT, IN, 13, 9, 10, 0, 8, LINE), 4 * 10 * 8));
  it('halveRgbRowsImage', () => expectSame((k) => k.halveRgbRowsImage(OUT, IN, 13, 9, 8, 0, 8, LINE), 3 * 8 * 8));
  it('halveRow', () => expectSame((k) => k.halveRow(OUT, IN, IN + 640, IN + 1280, IN + 1920, IN2, IN2 + 640, 12, LINE), 48));
  it.each([
    [0, 0],
    [6, 0],
    [3, 5],
  ])('halveBytes with %d border pixels on the left and %d on the right', (left, right) =>
    expectSame((k) => k.halveBytes(OUT, IN, IN + 90, IN + 180, IN + 270, IN2, IN2 + 90, 28 - left - right, left, right, 12, LINE), 36, bytesIn),
  );
  it.each([
    [0, 0],
    [5, 0],
    [3, 5],
  ])('softenBytes with %d border pixels on the left and %d on the right', (left, right) =>
    expectSame((k) => k.softenBytes(OUT, IN, IN + 90, IN + 180, IN + 270, 26 - left - right, left, right, 12, LINE), 36, bytesIn),
  );
  it.each([
    [0, 0],
    [5, 0],
    [3, 5],
  ])('softenBends with %d border pixels on the left and %d on the right', (left, right) =>
    expectSame(
      (k) => k.softenBends(OUT, IN, IN + 90, IN + 180, IN + 270, 26 - left - right, left, right, 12, LINE, TABLE),
      36,
      (f, u) => {
        bytesIn(f, u);
        // One parabola for each channel, four pixels of it.
        const powers = [
          [0.1, 0, 1],
          [0.003, 0.007, -0.005],
          [0, -1e-5, 1e-5],
        ];
        powers.forEach((channels, power) => {
          for (let i = 0; i < 12; i++) f[TABLE / 4 + 12 * power + i] = channels[i % 3] as number;
        });
      },
    ),
  );
  it('softenRow', () => expectSame((k) => k.softenRow(OUT, IN, IN + 640, IN + 1280, IN2, 12, LINE), 48));
  it('halveRgbRows', () => expectSame((k) => k.halveRgbRows(OUT, IN, IN + 400, IN + 800, IN + 1200, IN2, IN2 + 400, 12, LINE), 36));
  it('softenRgbRows', () => expectSame((k) => k.softenRgbRows(OUT, IN, IN + 400, IN + 800, IN + 1200, 12, LINE), 36));
  it('RGB rows, in the place of pixels too', () =>
    expectSame((k) => (k.rgbRows(OUT, IN, N), k.copy(IN2, IN, N), k.rgbRows(IN2, IN2, N), k.copy(OUT + 12 * N, IN2, 24)), 6 * N));
  it.each([1, 2, N])('opaque, %d pixels, in the place of RGB rows too', (n) =>
    expectSame((k) => (k.opaque(OUT, IN, n), k.copy(OUT + 16 * n, IN2, n), k.opaque(OUT + 16 * n, OUT + 16 * n, n)), 8 * n),
  );
  it.each([5, 12, 13, 14, 15])('firRgbRows of %d pixels', (n) => expectSame((k) => k.firRgbRows(OUT, IN, n, 4, TABLE, LINE), 3 * n));
  it('extend', () => expectSame((k) => (k.copy(OUT + 80, IN, 3), k.extend(OUT + 80, 3, 5, 4)), 48));
  it('extendRgbRows', () => expectSame((k) => (k.copy(OUT + 60, IN, 3), k.extendRgbRows(OUT + 60, 3, 5, 4)), 36));
  it('firAcross', () => expectSame((k) => k.firAcross(OUT, 11, IN, 13, 13, 1, 10, 5, 4, TABLE, LINE), 4 * 10));
  it('firDown', () => expectSame((k) => k.firDown(OUT, 10, IN, 13, 9, 2, 6, 10, 4, TABLE), 4 * 60));
  it.each([
    ['growAcross', 4],
    ['growAcross', 64],
    ['growRgbRowsAcross', 4],
    ['growRgbRowsAcross', 8],
    ['growOpaqueAcross', 4],
    ['growOpaqueAcross', 16],
  ] as const)('%s by %d', (name, by) => {
    const { weights, origin } = pyramidFor(by * 2);
    return expectSame(
      (k) => k[name](OUT, SMALL, by, origin, TABLE + 16 * by, 3, N),
      (name === 'growRgbRowsAcross' ? 3 : 4) * N,
      (f) => f.set(weights, TABLE / 4),
    );
  });
  it.each(['rgbRows', 'halveRgbRows', 'softenRgbRows'] as const)('%s write not a byte too many', async (name) => {
    const [fast] = await both();
    for (let n = 1; n < 10; n++) {
      fast.u.fill(77, OUT, OUT + 256);
      if (name === 'rgbRows') fast.k.rgbRows(OUT, IN, n);
      else if (name === 'halveRgbRows') fast.k.halveRgbRows(OUT, IN, IN, IN, IN, IN, IN, n, LINE);
      else fast.k.softenRgbRows(OUT, IN, IN, IN, IN, n, LINE);
      expect([...fast.u.slice(OUT + 12 * n, OUT + 12 * n + 4)]).toEqual([77, 77, 77, 77]);
    }
  });
  it.each([
    [4, 0, 4],
    [4, 2, 2],
    [8, 0, 8],
    [8, 3, 5],
    [16, 0, 16],
    [64, 37, 7],
    [1024, 1000, 16],
  ])('growDown by %d from phase %d, %d rows', (by, phase, rows) =>
    expectSame((k) => k.growDown(OUT, 16 * 38, IN, IN + 640, IN2, IN2 + 640, by, phase, rows, 38), 4 * 38 * rows),
  );
  it.each([
    ['growTwice', 0],
    ['growTwice', 1],
    ['growTwice', 6],
    ['growTwice', 7],
    ['growRgbRowsTwice', 0],
    ['growRgbRowsTwice', 1],
    ['growRgbRowsTwice', 6],
    ['growRgbRowsTwice', 7],
  ] as const)('%s from column %d', (name, x) => {
    const { weights, origin, factor } = pyramidFor(3.5);
    expect(factor).toBe(2);
    return expectSame(
      (k) => k[name](OUT, SMALL, 25, 20, origin, TABLE, x, 5, N, LINE),
      (name === 'growTwice' ? 4 : 3) * N,
      (f) => f.set(weights, TABLE / 4),
    );
  });
});
