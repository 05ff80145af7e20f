import { converter } from 'culori';
import fc from 'fast-check';
import { Chance } from '../../test/chance';
import { fill, floats, worst } from '../../test/engine';
import { group, layer, newEngine, PAINTED, paint, scene, resources, stackOf } from '../../test/kernels';
import { asItCame, pictureSize, toPhoto, type Geometry } from '../geometry/geometry';
import { mapped } from '../geometry/matrix';
import { shapeOf } from '../geometry/shape';
import type { Layout } from '../pixels/picture';
import { linearToOklab, decodeRgb } from '../pixels/colour';
import { pointsOf } from '../resources';
import { readStack } from '../stack/read';
import type { Stack } from '../stack/schema';
import { EVERY_MASK } from '../stack/maps';
import { emptyMask, newPart, type Mask, type Part } from './mask';
import type { PartId } from './parts';

const layout: Layout = { width: 120, height: 80, depth: 16, channels: 3 };
const all = scene(120, 80, 3);
const seen = (i: number): number => all[i] as number;

const part = (id: PartId, params: Part['params'] = {}, rest: Partial<Part> = {}): Part => {
  const made = newPart(id, `p-${id}`);
  return { ...made, ...rest, params: { ...made.params, ...params } };
};
const maskOf = (...parts: Part[]): Mask => ({ ...emptyMask, parts: parts.map((each, i) => ({ ...each, id: `p${i}` })) });
const masked = (mask: Mask): Stack => stackOf({ ...layer('exposure', { stops: 1 }, { mask }), id: 'it' });

/** The coverage of a mask, a number for each pixel. */
async function coverage(stack: Stack, of = 'it', size: Layout = layout, photo = seen, tile?: number): Promise<Float32Array> {
  const engine = await newEngine();
  fill(engine, size, photo);
  const made = engine.render({ stack, format: 'float', mask: of, ...(tile && { tile: { width: tile, height: tile } }) });
  const four = new Float32Array(made?.pixels.slice().buffer as ArrayBuffer);
  return four.filter((_, i) => i % 4 === 0);
}

const oval = part('oval', { x: -0.1, y: -1 / 30, width: 0.3, height: 0.18, angle: 20, inner: 0.3 });
const tones = part('tones', { from: 0.5, to: 0.9 });

it('tones weigh red, green and blue as the primaries of the photo do', async () => {
  const red = (i: number): number => (i % 4 === 0 || i % 4 === 3 ? 1 : 0);
  const one = { width: 1, height: 1, depth: 16, channels: 4 } as const;
  const mask = masked(maskOf(part('tones', { from: 0.25, to: 1, softFrom: 0.1 })));
  const smooth = (t: number): number => t * t * (3 - 2 * t);
  const [plain] = await coverage(mask, 'it', one, red);
  const [wide] = await coverage(mask, 'it', { ...one, gamut: 'display-p3' }, red);
  // Rec. 709; the row for Y of Display P3's matrix to XYZ.
  expect(plain).toBeCloseTo(smooth((0.2126 - 0.15) / 0.1), 4);
  expect(wide).toBeCloseTo(smooth((0.22897 - 0.15) / 0.1), 3);
});

describe('the algebra of masks', () => {
  it('keeps de Morgan’s law: not (a or b) is not a and not b', async () => {
    const either = await coverage(masked({ ...maskOf(oval, tones), inverted: true }));
    const neither = await coverage(masked(maskOf({ ...oval, inverted: true }, { ...tones, inverted: true, join: 'within' })));
    expect(worst(either, neither)).toBeLessThan(1e-6);
  });
  it('turned round twice is what it was, and taken away is kept within the rest', async () => {
    const once = await coverage(masked(maskOf(oval)));
    expect(worst(await coverage(masked({ ...maskOf({ ...oval, inverted: true }), inverted: true })), once)).toBeLessThan(1e-6);
    const taken = await coverage(masked(maskOf(tones, { ...oval, join: 'take' })));
    const within = await coverage(masked(maskOf(tones, { ...oval, inverted: true, join: 'within' })));
    expect(worst(taken, within)).toBeLessThan(1e-6);
  });
  it('begins from nothing where the first part adds, and from everything where it does not', async () => {
    const add = await coverage(masked(maskOf(oval)));
    const take = await coverage(masked(maskOf({ ...oval, join: 'take' })));
    expect(
      worst(
        add,
        take.map((v) => 1 - v),
      ),
    ).toBeLessThan(1e-6);
    expect(worst(await coverage(masked(maskOf({ ...oval, join: 'within' }))), add)).toBeLessThan(1e-6);
  });
  it('lets all through without a live part, and nothing when that is turned round', async () => {
    const off = { ...oval, on: false };
    expect(await floats(masked(maskOf(off)), layout, seen)).toEqual(await floats(masked(emptyMask), layout, seen));
    expect(worst(await floats(masked({ ...maskOf(off), inverted: true }), layout, seen), await floats(stackOf(), layout, seen))).toBeLessThan(1e-7);
    expect(await floats(masked({ ...maskOf(oval), on: false }), layout, seen)).toEqual(await floats(masked(emptyMask), layout, seen));
  });
  it('is the same as another layer’s as if it were its copy, also in a chain and turned round', async () => {
    const first = { ...layer('tone', { contrast: 0.4 }, { mask: maskOf(oval, tones) }), id: 'first', on: false };
    const second = { ...layer('tone', {}, { mask: maskOf(part('same-as', { layer: 'first' }, { inverted: true })) }), id: 'second', on: false };
    const third = { ...layer('exposure', { stops: 1 }, { mask: maskOf(part('same-as', { layer: 'second' })) }), id: 'it' };
    const linked = await coverage(stackOf(first, second, third));
    expect(worst(linked, await coverage(masked({ ...maskOf(oval, tones), inverted: true })))).toBeLessThan(1e-6);
  });
  it('tells what any mask of the stack touches', async () => {
    const other = { ...layer('tone', { contrast: 0.4 }, { mask: maskOf(tones) }) };
    const both = await coverage(stackOf(...masked(maskOf(oval)).layers, other), EVERY_MASK);
    expect(worst(both, await coverage(masked(maskOf(oval, tones))))).toBeLessThan(1e-6);
    expect(Math.min(...(await coverage(stackOf(layer('tone', { contrast: 0.2 }), other), EVERY_MASK)))).toBe(1);
  });
  it('is the same with tiles of any size, softened and led along edges', async () => {
    const mask = { ...maskOf(part('brush', { strokes: PAINTED }), { ...tones, keep: 0.7 }, { ...oval, join: 'within' }), soften: 0.01 };
    const whole = await coverage(masked(mask));
    for (const tile of [16, 64, 256]) expect(worst(await coverage(masked(mask), 'it', layout, seen, tile), whole)).toBeLessThan(1e-6);
  });
});

describe('shapes', () => {
  const smooth = (t: number): number => Math.min(1, Math.max(0, t)) ** 2 * (3 - 2 * Math.min(1, Math.max(0, t)));
  it('an oval fades by its formula between two borders', async () => {
    const made = await coverage(masked(maskOf(oval)));
    const angle = (20 * Math.PI) / 180;
    const truth = made.map((_, i) => {
      const [x, y] = [((i % 120) + 0.5) / 120 - 0.4, (Math.floor(i / 120) + 0.5) / 120 - 0.3];
      const off = Math.hypot((x * Math.cos(angle) + y * Math.sin(angle)) / 0.3, (y * Math.cos(angle) - x * Math.sin(angle)) / 0.18);
      return smooth((1 - off) / 0.7);
    });
    expect(worst(made, truth)).toBeLessThan(2e-5);
  });
  it('a band fades on each side by itself, a ramp once', async () => {
    const band = await coverage(masked(maskOf(part('band', { x: 0, y: 0.35 - 1 / 3, half: 0.05, before: 0.1, after: 0.2, angle: 0 }))));
    const ramp = await coverage(masked(maskOf(part('ramp', { x: 0, y: 0.2 - 1 / 3, length: 0.3, angle: 0 }))));
    for (let y = 0; y < 80; y++) {
      const way = (y + 0.5) / 120;
      expect(band[y * 120 + 60]).toBeCloseTo(smooth((way - 0.2) / 0.1) * smooth((0.6 - way) / 0.2), 4);
      expect(ramp[y * 120 + 60]).toBeCloseTo(smooth((0.5 - way) / 0.3), 4);
    }
  });
  it('colours go by the distance in OKLab', async () => {
    const rgb = { mode: 'rgb', r: 0.62, g: 0.5, b: 0.41 } as const;
    const [l, a, b] = linearToOklab(decodeRgb([rgb.r, rgb.g, rgb.b]));
    const made = await coverage(masked(maskOf(part('colour', { samples: [{ x: 0, y: 0, l, a, b }], tolerance: 0.05, softness: 0.1 }))));
    const oklab = converter('oklab');
    const sampled = oklab(rgb);
    for (let i = 0; i < made.length; i += 7) {
      const [r = 0, g = 0, blue = 0] = [0, 1, 2].map((c) => Math.round(seen(3 * i + c) * 65535) / 65535);
      const own = oklab({ mode: 'rgb', r, g, b: blue });
      const off = Math.hypot(own.l - sampled.l, own.a - sampled.a, own.b - sampled.b);
      expect(made[i]).toBeCloseTo(smooth(1 - (off - 0.05) / 0.1), 3);
    }
  });
  it('a spot stays on the thing it was tapped on', async () => {
    // A disc on a ground, both with noise; the tap is on the disc.
    const chance = new Chance(5);
    const noise = Array.from({ length: 120 * 80 }, () => chance.from(-0.02, 0.02));
    const onDisc = (p: number): boolean => Math.hypot((p % 120) - 50, Math.floor(p / 120) - 40) < 18;
    const photo = (i: number): number => (onDisc(Math.floor(i / 3)) ? 0.68 : 0.42) + (noise[Math.floor(i / 3)] as number);
    const [l, a, b] = linearToOklab(decodeRgb([0.68, 0.68, 0.68]));
    const made = await coverage(masked(maskOf(part('spot', { samples: [{ x: -5 / 120, y: 0, l, a, b }], reach: 0.4 }))), 'it', layout, photo);
    const sum = (where: (p: number) => boolean): number => made.reduce((total, v, p) => total + (where(p) ? v : 0), 0);
    expect(sum((p) => !onDisc(p)) / sum(() => true)).toBeLessThan(0.02);
    expect(sum(onDisc)).toBeGreaterThan(0.6 * made.reduce((n, _, p) => n + Number(onDisc(p)), 0));
  });
  it('edges are where tones change, by the gradient at a scale', async () => {
    const slope = (i: number): number => 0.2 + 0.004 * (Math.floor(i / 3) % 120);
    const made = await coverage(masked(maskOf(part('edges', { scale: 3 / 120, threshold: 0, softness: 0.03 }))), 'it', layout, slope);
    expect(made[40 * 120 + 60]).toBeCloseTo(smooth((0.004 * 3) / 0.03), 2);
    const flat = await coverage(masked(maskOf(part('edges', { threshold: 0.005 }))), 'it', layout, () => 0.5);
    expect(Math.max(...flat)).toBe(0);
  });
});

describe('masks and geometry', () => {
  const geometries: [string, Partial<Geometry>][] = [
    ['a crop', { crop: { x: 0.2, y: 0.1, width: 0.5, height: 0.7 } }],
    ['quarter turns', { turn: 90 }],
    ['a mirror', { mirrored: true, turn: 270 }],
    ['straightening', { angleDeg: 7 }],
    ['perspective', { upDown: 0.4, leftRight: -0.2, angleDeg: -3 }],
  ];
  const mask = maskOf(oval, part('band', { x: 0.2, y: 0.17, half: 0.03, angle: 35 }), part('brush', { strokes: PAINTED }));
  it.each(geometries)('lie on the same thing through %s, at any size', async (_, change) => {
    const geometry = { ...asItCame, ...change };
    const plain = await coverage(masked(mask));
    for (const scale of [1, 2]) {
      const photo = { width: 120, height: 80 };
      const size = pictureSize(geometry, photo);
      const picture = { width: size.width * scale, height: size.height * scale };
      const engine = await newEngine();
      fill(engine, layout, seen);
      const patch = { photo, rect: { x: 0, y: 0, w: 120, h: 80 }, layout };
      engine.shape(shapeOf(geometry, patch, picture, { x: 0, y: 0, w: picture.width, h: picture.height }));
      const made = new Float32Array(engine.render({ stack: masked(mask), format: 'float', mask: 'it' })?.pixels.slice().buffer as ArrayBuffer);
      const back = toPhoto(geometry, photo);
      let [most, sum, count] = [0, 0, 0];
      for (let y = 2; y < picture.height - 2; y++)
        for (let x = 2; x < picture.width - 2; x++) {
          const [u, v] = mapped(back, (x + 0.5) / picture.width, (y + 0.5) / picture.height);
          const [i, j] = [Math.floor(u - 0.5), Math.floor(v - 0.5)];
          if (i < 0 || j < 0 || i > 118 || j > 78) continue;
          const at = (p: number, q: number): number => plain[q * 120 + p] as number;
          const [s, t] = [u - 0.5 - i, v - 0.5 - j];
          const there = (at(i, j) * (1 - s) + at(i + 1, j) * s) * (1 - t) + (at(i, j + 1) * (1 - s) + at(i + 1, j + 1) * s) * t;
          const off = Math.abs(there - (made[4 * (y * picture.width + x)] as number));
          [most, sum, count] = [Math.max(most, off), sum + off, count + 1];
        }
      expect(count).toBeGreaterThan(1000);
      expect(sum / count).toBeLessThan(0.004);
      expect(most).toBeLessThan(0.55);
    }
  });
});

describe('painting', () => {
  it('does not build up on itself beyond its flow, but stroke upon stroke does', async () => {
    const there = [
      [0.2, 0.3, 1],
      [0.6, 0.3, 1],
      [0.2, 0.3, 1],
      [0.6, 0.31, 1],
    ];
    const once = await coverage(masked(maskOf(part('brush', { strokes: paint({ points: there, size: 0.08, softness: 0.4, flow: 0.5 }) }))));
    expect(Math.max(...once)).toBeCloseTo(0.5, 5);
    const stroke = { points: there, size: 0.08, softness: 0.4, flow: 0.5 };
    const twice = await coverage(masked(maskOf(part('brush', { strokes: paint(stroke, stroke) }))));
    expect(Math.max(...twice)).toBeCloseTo(0.75, 5);
    const away = await coverage(masked(maskOf(part('brush', { strokes: paint(stroke, { ...stroke, erase: true }) }))));
    expect(
      worst(
        away,
        once.map((v) => v * (1 - v)),
      ),
    ).toBeLessThan(1e-6);
  });
  it('is a swept disc: a distance from its points, by its softness', async () => {
    const made = await coverage(
      masked(
        maskOf(
          part('brush', {
            strokes: paint({
              points: [
                [0.3, 0.3, 1],
                [0.6, 0.3, 1],
              ],
              size: 0.1,
              softness: 1,
            }),
          }),
        ),
      ),
    );
    const truth = made.map((_, i) => {
      const [x, y] = [((i % 120) + 0.5) / 120, (Math.floor(i / 120) + 0.5) / 120];
      const off = Math.hypot(Math.max(0.3 - x, 0, x - 0.6), y - 0.3) / 0.1;
      const t = Math.min(1, Math.max(0, 1 - off));
      return t * t * (3 - 2 * t);
    });
    expect(worst(made, truth)).toBeLessThan(1e-3);
  });
  it('gives back the points that it was made of', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -0.5, max: 1.5, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
          minLength: 1,
          maxLength: 30,
        }),
        (points) => {
          const name = paint({ points: points.map(([x, pressure]) => [x, 1 - x, pressure]) });
          const back = pointsOf(resources.strokes.strokeOf(name));
          expect(back).toHaveLength(points.length);
          back.forEach(({ x, pressure }, i) => {
            expect(x).toBeCloseTo((points[i]?.[0] as number) - 0.5, 4);
            expect(pressure).toBeCloseTo(points[i]?.[1] as number, 1);
          });
        },
      ),
    );
  });
  it('is named by content, stroke by stroke', () => {
    const stroke = { points: [[0.1, 0.2, 1]] };
    expect(paint(stroke, stroke)).toBe(paint(stroke, stroke));
    expect(paint(stroke, stroke)).not.toBe(paint(stroke));
    expect(resources.strokes.chainTo(paint(stroke, stroke)).names).toHaveLength(2);
    expect(resources.strokes.chainTo('f'.repeat(32))).toEqual({ names: [], missing: 'f'.repeat(32) });
  });
  it('shows a hundred strokes, painted one after another on one engine, as it does at once', async () => {
    const engine = await newEngine();
    fill(engine, layout, seen);
    const chance = new Chance(9);
    const strokes = Array.from({ length: 100 }, () => ({
      points: [0, 1, 2].map(() => [chance.from(0, 1), chance.from(0, 0.67), chance.from(0.2, 1)]),
      size: chance.from(0.01, 0.1),
      erase: chance.is(0.3),
      flow: chance.from(0.2, 1),
    }));
    let last = new Float32Array();
    for (const n of [1, 2, 3, 63, 64, 65, 66, 99, 100]) {
      const stack = masked(maskOf(part('brush', { strokes: paint(...strokes.slice(0, n)) })));
      last = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer as ArrayBuffer);
    }
    expect(worst(await floats(masked(maskOf(part('brush', { strokes: paint(...strokes) }))), layout, seen), last)).toBeLessThan(1 / 255 / 4);
  });
});

describe('a mask from outside', () => {
  const read = (mask: unknown): Stack =>
    readStack(stackOf({ ...layer('tone'), id: 'it', mask: mask as Mask }, group([{ ...layer('tone'), id: 'other' }])));
  const one = (id: string, params: object = {}): unknown => ({ parts: [{ id: 'a', part: id, params }] });
  it.each([
    [one('cloud'), /parts\.0.*no part of that name/],
    [one('oval', { x: NaN }), /parts\.0\.params\.x/],
    [one('oval', { x: 4 }), /parts\.0\.params\.x/],
    [one('oval', { width: 0 }), /parts\.0\.params\.width/],
    [one('brush', { strokes: '../../etc' }), /named by 32 hexadecimal digits/],
    [one('same-as', { layer: 'it' }), /the same as itself, in a circle/],
    [one('same-as', { layer: 'nobody' }), /layer nobody, which is not there/],
    [{ parts: Array.from({ length: 10_000 }, (_, i) => ({ id: `p${i}`, part: 'oval' })) }, /at most 64 parts/],
    [
      {
        parts: [
          { id: 'a', part: 'oval' },
          { id: 'a', part: 'band' },
        ],
      },
      /same id/,
    ],
    [{ soften: 3 }, /soften/],
    [{ feather: 1 }, /feather|no such field|not known/i],
    [one('colour', { samples: Array.from({ length: 9 }, () => ({ x: 0, y: 0, l: 0.5, a: 0, b: 0 })) }), /at most 8/],
  ])('is refused with its path and a sentence: %j', (mask, message) => expect(() => read(mask)).toThrow(message));

  it('has defaults for all that is missing', () => {
    const [first] = read(one('oval')).layers;
    expect(first?.mask).toEqual({ ...emptyMask, parts: [newPart('oval', 'a')] });
  });
});
