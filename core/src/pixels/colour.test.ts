import { converter } from 'culori';
import fc from 'fast-check';
import { decode, encode, encodeRgb, linearToOklab, linearToXyz, luma, oklabToLinear, xyzToLinear, type Rgb } from './colour';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const colour = fc.tuple(unit, unit, unit);
const near = (a: readonly number[], b: readonly number[], within = 1e-5): boolean => a.every((v, i) => Math.abs(v - (b[i] as number)) < within);

describe('conversions', () => {
  it('agree with the published values', () => {
    // IEC 61966-2-1: 0.5 encoded is 0.2140411 linear; the white of sRGB is D65 (0.95046, 1, 1.08906 by CSS Color 4).
    expect(decode(0.5)).toBeCloseTo(0.2140411, 6);
    expect(decode(0.04045)).toBeCloseTo(0.0031308, 6);
    expect(near(linearToXyz([1, 1, 1]), [0.9504559, 1, 1.0890578])).toBe(true);
    // Ottosson 2020, table of test values: the XYZ of D65 white has lightness 1 and no chroma.
    expect(near(linearToOklab([1, 1, 1]), [1, 0, 0])).toBe(true);
    expect(luma([1, 0, 0])).toBeCloseTo(0.2126, 12);
  });

  it('agree with an independent implementation for any colour', () => {
    const [oklab, xyz] = [converter('oklab'), converter('xyz65')];
    fc.assert(
      fc.property(colour, (linear) => {
        const [r, g, b] = encodeRgb(linear);
        const lab = oklab({ mode: 'rgb', r, g, b });
        const point = xyz({ mode: 'rgb', r, g, b });
        return near(linearToOklab(linear), [lab.l, lab.a, lab.b]) && near(linearToXyz(linear), [point.x, point.y, point.z]);
      }),
    );
  });

  it('go back to where they came from, beyond 0..1 too', () => {
    const wide = fc.double({ min: -0.5, max: 4, noNaN: true });
    fc.assert(fc.property(fc.tuple(wide, wide, wide), (c: Rgb) => near(xyzToLinear(linearToXyz(c)), c) && near(oklabToLinear(linearToOklab(c)), c)));
    fc.assert(fc.property(wide, (v) => Math.abs(decode(encode(v)) - v) < 1e-9));
  });
});
