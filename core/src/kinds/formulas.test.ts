import fc from 'fast-check';
import { extremes, layer, newEngine, stackOf } from '../../test/kernels';
import { decode, decodeRgb, encode, linearToOklab, luma, type Rgb } from '../pixels/colour';
import { spotOf } from '../measure/spot';
import type { Layer } from '../stack/schema';
import { bands, bandWeights } from '../pixels/bands';
import { films } from './film-character';
import { zoneWeights } from './grade';
import { pulled } from './curves';
import { bend } from './tone';
import { balance, daylight } from './white-balance';
import { kinds } from '.';
import { curveFunction } from '../pixels/curve';

/** What a stack makes of one colour, by the kernels, from 16 bits. */
async function made(rgb: Rgb, ...layers: Layer[]): Promise<Rgb> {
  const engine = await newEngine();
  const bytes = engine.open({ width: 1, height: 1, depth: 16, channels: 3 });
  new Uint16Array(bytes.buffer, bytes.byteOffset, 3).set(rgb.map((v) => Math.round(v * 65535)));
  const out = engine.render({ stack: stackOf(...layers), format: 'float' });
  if (!out) throw new Error('stopped');
  const [r = 0, g = 0, b = 0] = new Float32Array(out.pixels.slice().buffer);
  return [r, g, b];
}
const close = (a: Rgb, b: Rgb, within = 5e-5): void => a.forEach((v, i) => expect(Math.abs(v - (b[i] as number))).toBeLessThan(within));

describe('exposure', () => {
  it('doubles the light for each stop (18 % grey becomes 36 %)', async () => {
    close(await made([encode(0.18), encode(0.09), encode(0.36)], layer('exposure', { stops: 1 })), [encode(0.36), encode(0.18), encode(0.72)]);
  });
  it('keeps what it lifts beyond white, so that it can be brought back', async () => {
    const grey: Rgb = [0.8, 0.8, 0.8];
    close(await made(grey, layer('exposure', { stops: 2 }), layer('exposure', { stops: -2 })), grey);
  });
  it('turns contrast about middle grey', async () => {
    const [grey] = await made([encode(0.18), 0.5, 0.5], layer('exposure', { contrast: 0.7 }));
    expect(decode(grey)).toBeCloseTo(0.18, 4);
  });
});

describe('tone', () => {
  it('never turns tones over, at any setting of its regions', () => {
    const share = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(share, share, share, share, (shadows, highlights, whites, blacks) => {
        const f = bend({ shadows, highlights, whites, blacks });
        return Array.from({ length: 100 }, (_, i) => f((i + 1) / 100) - f(i / 100)).every((step) => step > -1e-9);
      }),
    );
  });
});

describe('white balance', () => {
  it('follows the CIE daylight locus: D65 and D50 (CIE 15:2018, table T.1)', () => {
    close([...daylight(6504), 0] as unknown as Rgb, [0.3127, 0.3291, 0], 3e-4);
    close([...daylight(5003), 0] as unknown as Rgb, [0.3457, 0.3586, 0], 4e-4);
  });
  it('is nothing in the middle, and keeps the luminance of greys everywhere', () => {
    balance(0, 0).forEach((row, i) => row.forEach((v, j) => expect(v).toBeCloseTo(i === j ? 1 : 0, 3)));
    fc.assert(
      fc.property(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (warmth, tint) => {
        const [r = 0, g = 0, b = 0] = balance(warmth, tint).map((row) => row.reduce((sum, v) => sum + v, 0));
        return Math.abs(0.2126 * r + 0.7152 * g + 0.0722 * b - 1) < 2e-3 && (warmth <= 0.05 || Math.abs(tint) > 0.2 || r > b);
      }),
    );
  });
});

describe('hue bands', () => {
  it('have weights that sum to 1 at every hue and change smoothly', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 360, noNaN: true }), (hue) => {
        const [here, there] = [bandWeights(hue), bandWeights(hue + 0.1)];
        const sum = here.reduce((a, b) => a + b, 0);
        return Math.abs(sum - 1) < 1e-12 && here.every((w, i) => w >= 0 && Math.abs(w - (there[i] as number)) < 0.02);
      }),
    );
    bands.forEach(({ hue }, i) => expect(bandWeights(hue)[i]).toBeCloseTo(1, 9));
  });
  it('turn a colour as far as the fader says', async () => {
    const blue: Rgb = [0.25, 0.45, 0.85];
    const { hueDeg, chroma } = spotOf(blue);
    const turned = spotOf(await made(blue, layer('hue-bands', { hueBlue: 1, hueSky: 1, hueViolet: 1 })));
    expect(turned.hueDeg - hueDeg).toBeGreaterThan(30);
    expect(turned.chroma).toBeCloseTo(chroma, 2);
    expect(turned.lightness).toBeCloseTo(spotOf(blue).lightness, 3);
  });
});

describe('greys', () => {
  const quiet = ['saturation', 'hue-bands', 'mono-mix', 'channel-mix', 'solarise', 'bleach-bypass'] as const;
  it.each(quiet)('stay grey under %s, whatever its settings', async (id) => {
    for (const params of id === 'channel-mix' ? [{}] : extremes(id)) {
      const [r, g, b] = await made([0.42, 0.42, 0.42], layer(id, params));
      expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(2e-4);
    }
  });
  it('keep their lightness under saturation, hue bands and mono mix', async () => {
    for (const id of ['saturation', 'hue-bands', 'mono-mix'] as const)
      close(await made([0.3, 0.3, 0.3], layer(id, extremes(id)[1])), [0.3, 0.3, 0.3], 3e-4);
  });
});

describe('mono mix', () => {
  it('gives the OKLab lightness of a colour as a grey', async () => {
    const [l] = linearToOklab(decodeRgb([0.8, 0.3, 0.2]));
    const grey = encode(l ** 3);
    close(await made([0.8, 0.3, 0.2], layer('mono-mix')), [grey, grey, grey]);
  });
});

describe('grade', () => {
  it('has zones whose weights sum to 1', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(share, share, fc.double({ min: -1, max: 1, noNaN: true }), (lightness, blending, where) => {
        const weights = zoneWeights(lightness, blending, where);
        return Math.abs(weights[0] + weights[1] + weights[2] - 1) < 1e-12 && weights.every((w) => w >= 0 && w <= 1);
      }),
    );
  });
  it('keeps lightness while it tints', async () => {
    const tinted = await made([0.5, 0.5, 0.5], layer('grade', { allHue: 30, allAmount: 0.5 }));
    expect(spotOf(tinted).lightness).toBeCloseTo(spotOf([0.5, 0.5, 0.5]).lightness, 4);
    expect(spotOf(tinted).hueDeg).toBeCloseTo(30, 0);
  });
  it('is the ASC colour decision list, worked by hand: ((in * slope + offset) held)^power, then saturation about luma', async () => {
    const list = {
      slopeRed: 1.2,
      offsetRed: 0.05,
      powerRed: 0.8,
      slopeGreen: 0.9,
      offsetGreen: -0.02,
      powerGreen: 1.1,
      slopeBlue: 1,
      offsetBlue: 0.1,
      powerBlue: 1.3,
      saturation: 0.7,
    };
    const graded: Rgb = [0.53 ** 0.8, 0.43 ** 1.1, 0.7 ** 1.3];
    const grey = luma(graded);
    const expected = graded.map((v) => grey + 0.7 * (v - grey)) as unknown as Rgb;
    close(await made([0.4, 0.5, 0.6], layer('grade', list)), expected);
  });
  it('comes back from a list by its inverse', async () => {
    const there = layer('grade', { slopeRed: 1.25, slopeGreen: 0.8, powerBlue: 2 });
    const back = layer('grade', { slopeRed: 0.8, slopeGreen: 1.25, powerBlue: 0.5 });
    close(await made([0.3, 0.6, 0.5], there, back), [0.3, 0.6, 0.5]);
  });
});

describe('curves', () => {
  it('pass through a node that a drag on the photo sets', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 0.9, noNaN: true }), fc.double({ min: -0.4, max: 0.4, noNaN: true }), (at, by) => {
        const curve = pulled(
          {
            shape: 'smooth',
            nodes: [
              [0, 0],
              [1, 1],
            ],
          },
          at,
          by,
        );
        return Math.abs(curveFunction(curve)(at) - Math.min(1, Math.max(0, at + by))) < 1e-9 && curve.nodes.length === 3;
      }),
    );
  });
  it('bend lightness alone by the lightness curve', async () => {
    const lifted = {
      shape: 'straight',
      nodes: [
        [0, 0.2],
        [1, 1],
      ] as [number, number][],
    } as const;
    const before = spotOf([0.6, 0.35, 0.3]);
    const after = spotOf(await made([0.6, 0.35, 0.3], layer('curves', { lightness: { ...lifted, nodes: [...lifted.nodes] } })));
    expect(after.lightness).toBeCloseTo(0.2 + 0.8 * before.lightness, 3);
    expect(after.chroma).toBeCloseTo(before.chroma, 3);
    expect(after.hueDeg).toBeCloseTo(before.hueDeg, 0);
  });
});

describe('film character', () => {
  it('has at least twelve films in four families', () => {
    expect(Object.keys(films).length).toBeGreaterThanOrEqual(12);
    expect(new Set(Object.values(films).map(({ family }) => family)).size).toBe(4);
  });
  it('makes greys of everything with a monochrome film', async () => {
    const [r, g, b] = await made([0.7, 0.3, 0.5], layer('film-character', { film: 'ink' }));
    expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(1e-4);
  });
});

describe('channel mix', () => {
  it('exchanges red and blue exactly', async () => {
    const swap = { redFromRed: 0, redFromBlue: 1, blueFromBlue: 0, blueFromRed: 1 };
    close(await made([0.9, 0.4, 0.1], layer('channel-mix', swap)), [0.1, 0.4, 0.9]);
  });
});

describe('grain', () => {
  const size = { width: 256, height: 192 };
  async function grainy(params: Record<string, number>, tone = 128, at = size): Promise<Float32Array> {
    const engine = await newEngine();
    engine.open({ ...at, depth: 8, channels: 3 }).fill(tone);
    const out = engine.render({ stack: stackOf(layer('grain', { amount: 0.6, size: 60, ...params })), format: 'float' });
    return new Float32Array(out?.pixels.slice().buffer ?? new ArrayBuffer(0));
  }
  const greens = (pixels: Float32Array): number[] => [...pixels.filter((_, i) => i % 4 === 1)];
  const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
  const deviation = (values: readonly number[]): number => {
    const m = mean(values);
    return Math.sqrt(mean(values.map((v) => (v - m) ** 2)));
  };

  it('leaves the mean within a fifth of an 8-bit level, at any tone and size', async () => {
    const at = { width: 1024, height: 768 };
    for (const tone of [40, 128, 210])
      for (const um of [8, 30]) expect(Math.abs(mean(greens(await grainy({ size: um }, tone, at))) - tone / 255)).toBeLessThan(0.2 / 255);
  });
  it('is strongest in the middle tones', async () => {
    const [dark, middle, light] = [await grainy({ middle: 1 }, 25), await grainy({ middle: 1 }, 128), await grainy({ middle: 1 }, 235)].map((g) =>
      deviation(greens(g)),
    );
    expect(middle).toBeGreaterThan(2 * Math.max(dark ?? 0, light ?? 0));
  });
  it('has a narrower band as it grows: neighbours are more alike', async () => {
    const alike = async (um: number): Promise<number> => {
      const values = greens(await grainy({ size: um, roughness: 0, softness: 0 }, 128, { width: 2000, height: 60 }));
      const m = mean(values);
      return mean(values.slice(1).map((v, i) => (v - m) * ((values[i] as number) - m))) / deviation(values) ** 2;
    };
    const [fine, middle, coarse] = [await alike(20), await alike(50), await alike(80)];
    expect(fine).toBeLessThan(middle);
    expect(middle).toBeLessThan(coarse);
  });
  it('evens out where a pixel holds many grains, and is another with another seed', async () => {
    const [large, small] = [
      await grainy({ size: 20 }, 128, { width: 1800, height: 60 }),
      await grainy({ size: 20 }, 128, { width: 300, height: 60 }),
    ];
    expect(deviation(greens(small))).toBeLessThan(0.4 * deviation(greens(large)));
    expect(await grainy({ seed: 1 })).toEqual(await grainy({ seed: 1 }));
    expect(await grainy({ seed: 1 })).not.toEqual(await grainy({ seed: 2 }));
  });
});

it('every kind has a note that ends as a sentence does, and a name of its own', () => {
  kinds.forEach(({ note }) => expect(note).toMatch(/\.$/));
  expect(new Set(kinds.map(({ label }) => label)).size).toBe(kinds.length);
});
