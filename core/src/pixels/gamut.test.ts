import { converter } from 'culori';
import fc from 'fast-check';
import { decodeRgb, encodeRgb, linearToOklab, luma, type Rgb } from './colour';
import { linearFrom, linearIn, lumaOf, narrowed } from './gamut';

const part = fc.double({ min: 0, max: 1, noNaN: true });
const colour = fc.tuple(part, part, part);
const near = (a: readonly number[], b: readonly number[], within = 1e-5): boolean => a.every((v, i) => Math.abs(v - (b[i] as number)) < within);
const hueOf = ([, a, b]: Rgb): number => (Math.atan2(b, a) * 180) / Math.PI;
const chromaOf = ([, a, b]: Rgb): number => Math.hypot(a, b);
const inLab = (linear: Rgb): Rgb => linearToOklab(linearFrom('display-p3', linear));

it('Display P3 is what an independent implementation says', () => {
  const oklab = converter('oklab');
  fc.assert(
    fc.property(colour, (linear) => {
      const [r, g, b] = encodeRgb(linear);
      const { l, a, b: yellow } = oklab({ mode: 'p3', r, g, b });
      return near(inLab(linear), [l, a, yellow]) && near(linearIn('display-p3', linearFrom('display-p3', linear)), linear);
    }),
  );
  // Greys weigh the same in both, and so does the light of any colour.
  expect(lumaOf('display-p3').reduce((sum, v) => sum + v, 0)).toBeCloseTo(1, 3);
  fc.assert(
    fc.property(colour, (linear) => {
      const [r, g, b] = lumaOf('display-p3');
      return Math.abs(r * linear[0] + g * linear[1] + b * linear[2] - luma(linearFrom('display-p3', linear))) < 2e-4;
    }),
  );
});

describe('what sRGB cannot hold', () => {
  it('comes inside at its hue, nearly at its lightness; what lies well inside stays as it is', () => {
    fc.assert(
      fc.property(colour, (linear) => {
        const made = narrowed(linear);
        const [was, is] = [inLab(linear), linearToOklab(made)];
        const plain = linearFrom('display-p3', linear);
        const grey = (v: number): Rgb => [v, v, v];
        // Half way to grey from what sRGB holds is inside the knee.
        const half = plain.map((v) => 0.2 + 0.2 * v) as unknown as Rgb;
        return (
          made.every((v) => v >= -1e-5 && v <= 1 + 1e-5) &&
          Math.abs(was[0] - is[0]) < 0.03 &&
          chromaOf(is) <= chromaOf(was) + 1e-4 &&
          (chromaOf(is) < 0.02 || Math.abs(((hueOf(is) - hueOf(was) + 540) % 360) - 180) < 1) &&
          near(
            narrowed(linearIn('display-p3', grey(plain[0] > 0 ? Math.min(1, plain[0]) : 0))),
            grey(plain[0] > 0 ? Math.min(1, plain[0]) : 0),
            1e-4,
          ) &&
          (half.some((v) => v < 0.1 || v > 0.9) || near(narrowed(linearIn('display-p3', half)), half, 1e-6))
        );
      }),
    );
  });

  it('moves on with what it comes from: no step of a quarter of a level becomes more than one and a half, at any hue', () => {
    const level = (from: readonly number[]): Rgb => encodeRgb(narrowed(decodeRgb(from as unknown as Rgb)));
    let largest = 0;
    let turned = 0;
    // Around all hues at several strengths, then along each of some from grey to full.
    const corner = (around: number): Rgb => {
      const [sector, part] = [Math.floor(around) % 6, around % 1];
      return (
        [
          [1, part, 0],
          [1 - part, 1, 0],
          [0, 1, part],
          [0, 1 - part, 1],
          [part, 0, 1],
          [1, 0, 1 - part],
        ] as const
      )[sector] as Rgb;
    };
    const walk = (count: number, at: (i: number) => readonly number[]): void => {
      let before = level(at(0));
      for (let i = 1; i <= count; i++) {
        const now = level(at(i));
        largest = Math.max(largest, ...now.map((v, c) => 255 * Math.abs(v - (before[c] as number))));
        before = now;
        const [was, is] = [inLab(decodeRgb(at(i) as unknown as Rgb)), linearToOklab(decodeRgb(now))];
        if (chromaOf(is) > 0.03) turned = Math.max(turned, Math.abs(((hueOf(is) - hueOf(was) + 540) % 360) - 180));
      }
    };
    const QUARTERS = 4 * 255;
    for (const dark of [0, 0.15, 0.4])
      for (const light of [0.5, 0.8, 1]) walk(6 * QUARTERS, (i) => corner(i / QUARTERS).map((v) => light * (dark + (1 - dark) * v)));
    for (let hue = 0; hue < 6; hue += 0.25) {
      walk(QUARTERS, (i) => corner(hue).map((v) => (v * i) / QUARTERS));
      walk(QUARTERS, (i) => corner(hue).map((v) => 1 - ((1 - v) * i) / QUARTERS));
      walk(QUARTERS, (i) => corner(hue).map((v) => 0.5 + ((v - 0.5) * i) / QUARTERS));
    }
    expect([largest < 1.5, largest]).toMatchObject([true, expect.any(Number)]);
    expect(turned).toBeLessThan(2);
  });

  it('is mapped from what Display P3 shows of it: a channel beyond its end stays at it', () => {
    fc.assert(
      fc.property(fc.tuple(fc.double({ min: -0.5, max: 2, noNaN: true }), fc.double({ min: -0.5, max: 2, noNaN: true }), part), (linear) =>
        near(narrowed(linear), narrowed(linear.map((v) => Math.min(1, Math.max(0, v))) as unknown as Rgb)),
      ),
    );
  });

  it.each([
    ['red', [1, 0, 0]],
    ['green', [0, 1, 0]],
    ['orange', [1, 0.7, 0]],
    ['magenta', [1, 0, 1]],
  ] as [string, Rgb][])('a ramp from grey to full %s stays smooth and keeps its hue', (_, full) => {
    const steps = Array.from({ length: 201 }, (_, i) => decodeRgb(full.map((v) => 0.5 + (v - 0.5) * (i / 200)) as unknown as Rgb));
    const made = steps.map((linear) => linearToOklab(narrowed(linear)));
    let flat = 0;
    let longest = 0;
    made.forEach((lab, i) => {
      const before = made[i - 1];
      if (!before) return;
      if (chromaOf(lab) > 0.03) expect(Math.abs(((hueOf(lab) - hueOf(inLab(steps[i] as Rgb)) + 540) % 360) - 180)).toBeLessThan(2);
      const step = Math.hypot(...lab.map((v, c) => v - (before[c] as number)));
      flat = step < 2e-4 ? flat + 1 : 0;
      longest = Math.max(longest, flat);
      // No step is more than a few times the one before it would lead to expect.
      expect(step).toBeLessThan(0.02);
    });
    expect(longest).toBeLessThanOrEqual(10);
  });
});
