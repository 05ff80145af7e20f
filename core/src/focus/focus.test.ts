import { apertureKernel, apertureNumbers, round, type Aperture } from '../expressions/filters/aperture';
import { floats } from '../../test/engine';
import { layer, stackOf } from '../../test/kernels';
import { decode, encode } from '../pixels/colour';
import { filterOf } from '../expressions/filters';
import { betweenPins, newFocus } from './focus';
import { levelsTo } from './varied';

const opaque = { depth: 16, channels: 3 } as const;

/** Light of a point behind a lens blur, and where it should be by the opening's kernel at full size. */
async function misplaced(shape: Aperture, edge: number, params: Record<string, number | string>): Promise<number> {
  const layout = { width: edge, height: 1 + 2 * Math.ceil(shape.radiusPx * 1.4 + 24), ...opaque };
  const [cx, cy] = [Math.floor(edge / 2), Math.floor(layout.height / 2)];
  const made = await floats(stackOf(layer('lens-blur', { lift: 0, ...params, radius: shape.radiusPx / edge })), layout, (i) =>
    Math.floor(i / 3) === cy * edge + cx ? 1 : 0,
  );
  const { reach, shares } = apertureKernel(shape);
  let [off, all] = [0, 0];
  for (let y = 0; y < layout.height; y++)
    for (let x = 0; x < edge; x++) {
      const [i, j] = [x - cx + reach, y - cy + reach];
      const inside = i >= 0 && j >= 0 && i <= 2 * reach && j <= 2 * reach;
      const wanted = inside ? (shares[j * (2 * reach + 1) + i] as number) : 0;
      const light = decode(made[4 * (y * edge + x)] as number);
      off += Math.abs(light - wanted);
      all += light;
    }
  expect(all).toBeCloseTo(1, 2);
  return off / 2;
}

describe('the opening of a lens', () => {
  const shapes: [string, Aperture, Record<string, number | string>][] = [
    ['a small round one', round(3.3), {}],
    ['a round one', round(17), {}],
    ['a round one at half size', round(44), {}],
    ['a round one at a quarter', round(85), {}],
    ['six straight blades', { ...round(30), blades: 6, curve: 0, turnDeg: 20 }, { blades: '6', curve: 0, turn: 20 }],
    ['five blades at half size', { ...round(60), blades: 5, curve: 0.3 }, { blades: '5', curve: 0.3 }],
    ['a narrow one with a rim', { ...round(26), squeeze: 0.5, rim: 0.7 }, { squeeze: 0.5, rim: 0.7 }],
  ];
  it.each(shapes)('is the shape that a point takes: %s', async (_, shape, params) => {
    const off = await misplaced(shape, 400, params);
    expect(off).toBeLessThan(0.02);
  });
  it('is as large as its circle', () => {
    const { reach, shares } = apertureKernel(round(20));
    const full = shares[(2 * reach + 1) * reach + reach] as number;
    expect(1 / full / (Math.PI * 400)).toBeCloseTo(1, 2);
    expect(apertureNumbers(round(3))).toHaveLength(10);
    expect(filterOf('aperture').factor(apertureNumbers(round(104)))).toBe(4);
  });
});

describe('what is in focus', () => {
  const layout = { width: 240, height: 160, ...opaque };
  const within = (i: number, r: number): boolean => Math.hypot((Math.floor(i / 3) % 240) + 0.5 - 120, Math.floor(i / 720) + 0.5 - 80) < r;
  /** An oval of no transition: what is within it is sharp, all else is blurred by 12 px. */
  const step = (r: number) => newFocus('oval', 'o', { width: r / 240, height: r / 240, right: 0.01 });
  const focused = (values: (i: number) => number, by: string): Promise<Float32Array> =>
    floats(stackOf(layer('oval-focus', { focus: [step(40)], radius: 0.03, lift: 0, by })), layout, values);
  const light = (image: Float32Array, r: number): number => decode(image[4 * (80 * 240 + 119 + Math.round(r))] as number);

  it.each(['lens', 'soft'])('throws no light on what is blurred around it, and leaves no seam: %s', async (by) => {
    const disc = await focused((i) => (within(i, 40) ? 1 : encode(0.02)), by);
    for (const r of [43, 45, 50, 60]) expect(light(disc, r)).toBeLessThan(0.03);
    for (const r of [0, 20, 38]) expect(light(disc, r)).toBeGreaterThan(0.99);
    const hole = await focused((i) => (within(i, 40) ? encode(0.02) : 1), by);
    for (const r of [43, 45, 50, 60]) expect(light(hole, r)).toBeGreaterThan(0.99);
    for (const r of [0, 20, 38]) expect(light(hole, r)).toBeLessThan(0.03);
  });

  it('goes from level to level without steps', async () => {
    const stars = (i: number): number => {
      const [x, y] = [Math.floor(i / 3) % 240, Math.floor(i / 720)];
      return x % 12 === 6 && y % 40 === 20 ? 1 : 0;
    };
    const band = newFocus('band', 'b', { angle: 90, half: 0, before: 0.5, after: 0.5 });
    const image = await floats(stackOf(layer('band-focus', { focus: [band], radius: 0.03, lift: 0, by: 'soft' })), layout, stars);
    const peaks = Array.from({ length: 8 }, (_, k) => decode(image[4 * (60 * 240 + 126 + 12 * k)] as number));
    for (let k = 1; k < peaks.length; k++) expect(peaks[k] as number).toBeLessThan(peaks[k - 1] as number);
    for (let k = 2; k < peaks.length; k++) expect((peaks[k] as number) / (peaks[k - 1] as number)).toBeGreaterThan(0.25);
  });

  it('levels reach from under a pixel to the most', () => {
    const levels = levelsTo(40, 2);
    expect(levels.at(-1)).toBe(40);
    expect(levels[0]).toBeLessThan(1.6);
  });

  it('pins are never passed', () => {
    const pins = [
      { x: 0, y: 0, blur: 0.2 },
      { x: 0.3, y: 0.1, blur: 0.9 },
      { x: -0.2, y: 0.2, blur: 0.5 },
    ];
    for (let x = -0.5; x <= 0.5; x += 0.05)
      for (let y = -0.5; y <= 0.5; y += 0.05) {
        const blur = betweenPins(pins, x, y);
        expect(blur).toBeGreaterThanOrEqual(0.2);
        expect(blur).toBeLessThanOrEqual(0.9);
      }
    for (const { x, y, blur } of pins) expect(betweenPins(pins, x, y)).toBeCloseTo(blur, 2);
  });
});
