import { clipped, zoned, zoneLevel, zoneOf } from './zones';
import fc from 'fast-check';
import { autoMix } from './auto-mix';
import { histogramOf, regionAt } from './histogram';
import { factsOf } from './facts';
import { spotAt, spotOf } from './spot';
import type { Bytes } from './bytes';

const flat = (rgb: readonly [number, number, number], width = 20, height = 10): Bytes => ({
  width,
  height,
  data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? 255 : (rgb[i % 4] as number))),
});

describe('a histogram', () => {
  it('counts every pixel once in each channel, and what is clipped', () => {
    const { luminance, red, clippedLight, clippedDark } = histogramOf(flat([255, 100, 3]));
    expect(red[255]).toBe(200);
    expect(luminance[Math.round(0.2126 * 255 + 71.52 + 0.2166)]).toBe(200);
    expect([clippedLight, clippedDark]).toEqual([1, 0]);
    expect(histogramOf(flat([0, 0, 0])).clippedDark).toBe(1);
  });
  it('knows the region of every tone', () => {
    expect([0, 0.2, 0.5, 0.8, 1].map((tone) => regionAt(tone).name)).toEqual(['blacks', 'shadows', 'brightness', 'highlights', 'whites']);
  });
});

describe('a spot', () => {
  it('is the mean about a place, held inside the picture', () => {
    const picture = flat([51, 102, 153]);
    fc.assert(
      fc.property(fc.double({ min: -1, max: 2, noNaN: true }), fc.double({ min: -1, max: 2, noNaN: true }), (u, v) => {
        const { rgb } = spotAt(picture, u, v, 3);
        return Math.abs(rgb[0] - 0.2) < 1e-9 && Math.abs(rgb[2] - 0.6) < 1e-9;
      }),
    );
  });
  it('counts stops from middle grey: white is 2.47 above it', () => {
    expect(spotOf([1, 1, 1]).stops).toBeCloseTo(Math.log2(1 / 0.18), 5);
    expect(spotOf([0, 0, 0]).stops).toBeCloseTo(-14 - Math.log2(0.18), 5);
  });
  it('has the OKLab coordinates of the primaries (B. Ottosson 2020)', () => {
    const red = spotOf([1, 0, 0]);
    expect(red.lightness).toBeCloseTo(0.628, 3);
    expect(red.chroma).toBeCloseTo(0.2577, 3);
    expect(red.hueDeg).toBeCloseTo(29.23, 1);
  });
});

describe('facts', () => {
  it('know leaves from sky, and dark from light', () => {
    expect(factsOf(flat([110, 150, 50])).foliage).toBe(1);
    expect(factsOf(flat([90, 140, 220])).foliage).toBe(0);
    expect(factsOf(flat([128, 128, 128]))).toMatchObject({ foliage: 0 });
    expect(factsOf(flat([20, 20, 20])).tone).toBeLessThan(0.1);
  });
});

describe('an automatic mix', () => {
  const halves = (a: readonly number[], b: readonly number[]): Bytes => ({
    width: 40,
    height: 20,
    data: Uint8ClampedArray.from({ length: 3200 }, (_, i) => (i % 4 === 3 ? 255 : ((Math.floor(i / 4) % 40 < 20 ? a : b)[i % 4] as number))),
  });
  it('parts leaves from sky of the same tone, and leaves absent colours alone', () => {
    const mix = autoMix(halves([120, 150, 50], [110, 140, 200]));
    expect(Math.max(mix.yellow ?? -1, mix.leaf ?? -1)).toBeGreaterThan(0.2);
    expect(mix.blue).toBeLessThan(-0.2);
    expect(mix.red).toBeUndefined();
  });
  it('does nothing to a grey picture', () => expect(autoMix(flat([90, 90, 90]))).toEqual({}));
});

describe('zones', () => {
  it('are a stop apart, with middle grey in the fifth', () => {
    expect(zoneOf(0.18)).toBe(5);
    expect([0.09, 0.36, 0.72].map(zoneOf)).toEqual([4, 6, 7]);
    expect([0, 1e-9, 40].map(zoneOf)).toEqual([0, 0, 10]);
  });

  it('make flat greys of a picture, the same that each pixel is measured by', () => {
    const data = Uint8Array.from({ length: 256 * 4 }, (_, i) => (i % 4 === 3 ? 255 : Math.floor(i / 4)));
    const flat = zoned({ width: 256, height: 1, data });
    for (let level = 0; level < 256; level++) {
      const luminance = level / 255 <= 0.04045 ? level / 255 / 12.92 : ((level / 255 + 0.055) / 1.055) ** 2.4;
      expect(flat[4 * level]).toBe(zoneLevel(zoneOf(luminance)));
    }
  });

  it('marks what is clipped, dark where all channels are, light where any is', () => {
    const data = Uint8Array.from([0, 0, 0, 255, 255, 10, 10, 255, 0, 1, 0, 255, 254, 254, 254, 255]);
    expect([...clipped({ width: 4, height: 1, data })]).toEqual([1, 2, 0, 0]);
  });
});
