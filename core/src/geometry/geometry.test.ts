import fc from 'fast-check';
import { layer, newEngine, scene, slowKernels, stackOf } from '../../test/kernels';
import type { Engine } from '../engine/engine';
import type { Layout, Rect } from '../pixels/picture';
import { GRID, reachOf } from '../stack/reach';
import { asItCame, enlargement, geometrySchema, neededOf, pictureSize, toPhoto, type Geometry } from './geometry';
import { mapped } from './matrix';
import { copies, filmPlaceOf, partPlaceOf, shapeOf } from './shape';

const geometries = fc.record({
  turn: fc.constantFrom(0, 90, 180, 270),
  mirrored: fc.boolean(),
  angleDeg: fc.double({ min: -45, max: 45, noNaN: true }),
  upDown: fc.double({ min: -1, max: 1, noNaN: true }),
  leftRight: fc.double({ min: -1, max: 1, noNaN: true }),
  crop: fc
    .tuple(fc.double({ min: 0, max: 0.9, noNaN: true }), fc.double({ min: 0, max: 0.9, noNaN: true }))
    .map(([x, y]) => ({ x, y, width: 1 - x, height: 1 - y })),
}) as fc.Arbitrary<Geometry>;
const photos = fc.record({ width: fc.integer({ min: 40, max: 4000 }), height: fc.integer({ min: 40, max: 4000 }) });

describe('geometry', () => {
  it('leaves no corner empty, whatever is turned, straightened and leant', () => {
    fc.assert(
      fc.property(geometries, photos, (geometry, photo) => {
        const map = toPhoto(geometry, photo);
        for (const [u, v] of [
          [0, 0],
          [1, 0],
          [0, 1],
          [1, 1],
          [0.5, 0.5],
          [0.3, 0.9],
        ] as const) {
          const [x, y] = mapped(map, u, v);
          expect(x).toBeGreaterThanOrEqual(-1e-3);
          expect(y).toBeGreaterThanOrEqual(-1e-3);
          expect(x).toBeLessThanOrEqual(photo.width + 1e-3);
          expect(y).toBeLessThanOrEqual(photo.height + 1e-3);
        }
      }),
    );
  });

  it('keeps the middle of an uncropped photo in the middle, and enlarges no more than it must', () => {
    const photo = { width: 300, height: 200 };
    const geometry = { ...asItCame, angleDeg: 30 };
    mapped(toPhoto(geometry, photo), 0.5, 0.5).forEach((v, i) => expect(v).toBeCloseTo([150, 100][i] as number, 6));
    // A turned rectangle covers another of its shape when it is larger by cos a + (long / short) sin a.
    expect(enlargement(geometry, photo)).toBeCloseTo(Math.cos(Math.PI / 6) + 1.5 * Math.sin(Math.PI / 6), 6);
    expect(pictureSize(geometry, photo)).toEqual({ width: Math.round(300 / 1.6160254), height: Math.round(200 / 1.6160254) });
  });

  it('needs no more of the photo than what is seen, and a rim', () => {
    const photo = { width: 1000, height: 800 };
    const crop = { x: 0.25, y: 0.5, width: 0.5, height: 0.25 };
    expect(neededOf({ ...asItCame, crop }, photo)).toEqual({ x: 250, y: 400, w: 500, h: 200 });
    expect(neededOf({ ...asItCame, turn: 90, crop: { ...crop, x: 0, width: 0.1 } }, photo)).toEqual({ x: 500, y: 720, w: 250, h: 80 });
  });

  it('takes no crop that hangs over, and nothing that is not finite', () => {
    expect(geometrySchema.safeParse(asItCame).success).toBe(true);
    for (const bad of [
      { crop: { x: 0.5, y: 0, width: 0.6, height: 1 } },
      { angleDeg: NaN },
      { turn: 45 },
      { crop: { x: 0, y: 0, width: 0, height: 1 } },
      { upDown: 1.1 },
    ])
      expect(geometrySchema.safeParse({ ...asItCame, ...bad }).success).toBe(false);
  });
});

const photo: Layout = { width: 90, height: 60, depth: 8, channels: 3 };
const bytes = Uint8Array.from(scene(90, 60, 3), (v) => Math.round(v * 255));
const wholePatch = { photo, rect: { x: 0, y: 0, w: 90, h: 60 }, layout: photo };

async function shapedBy(geometry: Geometry, make?: typeof slowKernels): Promise<{ engine: Engine; layout: Layout; shown: Float32Array }> {
  const engine = await newEngine(make);
  engine.open(photo).set(bytes);
  const size = pictureSize(geometry, photo);
  const shape = shapeOf(geometry, wholePatch, size, { x: 0, y: 0, w: size.width, h: size.height });
  engine.shape(shape);
  const rendered = engine.render({ stack: stackOf(), format: 'float' });
  return { engine, layout: shape.layout, shown: new Float32Array(rendered?.pixels.slice().buffer ?? new ArrayBuffer(0)) };
}

const colourAt = (shown: Float32Array, width: number, x: number, y: number): number[] =>
  [0, 1, 2].map((c) => shown[4 * (y * width + x) + c] as number);
const photoAt = (x: number, y: number): number[] => [0, 1, 2].map((c) => (bytes[3 * (y * 90 + x) + c] as number) / 255);

describe('the picture before the first layer', () => {
  it.each([
    [{ turn: 90 }, (x: number, y: number) => [y, 59 - x]],
    [{ turn: 180 }, (x: number, y: number) => [89 - x, 59 - y]],
    [{ turn: 270 }, (x: number, y: number) => [89 - y, x]],
    [{ mirrored: true }, (x: number, y: number) => [89 - x, y]],
    [{ crop: { x: 0.2, y: 0.5, width: 0.5, height: 0.25 } }, (x: number, y: number) => [18 + x, 30 + y]],
    [{ turn: 90, mirrored: true }, (x: number, y: number) => [y, x]],
  ] as const)('is the photo’s own bytes for %j', async (change, from) => {
    const geometry = { ...asItCame, ...change } as Geometry;
    const { layout, shown } = await shapedBy(geometry);
    expect(layout.depth).toBe(8);
    for (let y = 0; y < layout.height; y += 7)
      for (let x = 0; x < layout.width; x += 5) {
        const [u, v] = from(x, y) as [number, number];
        colourAt(shown, layout.width, x, y).forEach((value, c) => expect(value).toBeCloseTo(photoAt(u, v)[c] as number, 6));
      }
  });

  it('is made anew in 16 bits where it must be, the same by both builds of the kernels', async () => {
    const geometry = { ...asItCame, angleDeg: 7, upDown: 0.3, crop: { x: 0.1, y: 0.1, width: 0.7, height: 0.8 } };
    const [fast, slow] = [await shapedBy(geometry), await shapedBy(geometry, slowKernels)];
    expect(fast.layout.depth).toBe(16);
    expect(fast.shown.reduce((most, v, i) => Math.max(most, Math.abs(v - (slow.shown[i] as number))), 0)).toBeLessThan(2.5 / 65535);
    const middle = mapped(toPhoto(geometry, photo), 0.5, 0.5);
    expect(middle[0]).toBeGreaterThan(30);
  });

  it('keeps a level tone level', async () => {
    const engine = await newEngine();
    engine.open(photo).fill(128);
    const geometry = { ...asItCame, angleDeg: -12, leftRight: 0.5 };
    const size = pictureSize(geometry, photo);
    engine.shape(shapeOf(geometry, wholePatch, size, { x: 0, y: 0, w: size.width, h: size.height }));
    const shown = engine.render({ stack: stackOf(), format: 'rgb8' })?.pixels ?? [];
    expect(new Set(shown)).toEqual(new Set([128]));
  });

  it('can be shaped again and again, and let go of the photo', async () => {
    const { engine } = await shapedBy({ ...asItCame, angleDeg: 3 });
    for (const angleDeg of [5, 0, -8]) {
      const geometry = { ...asItCame, angleDeg, crop: { x: 0, y: 0, width: 0.5, height: 0.5 } };
      const size = pictureSize(geometry, photo);
      engine.shape(shapeOf(geometry, wholePatch, size, { x: 0, y: 0, w: size.width, h: size.height }), angleDeg === -8);
      expect(engine.render({ stack: stackOf(layer('blur')), format: 'rgb8' })?.width).toBe(size.width);
    }
    engine.open(photo).set(bytes);
    expect(engine.render({ stack: stackOf(), format: 'rgb8' })?.pixels.slice()).toEqual(bytes);
  });
});

describe('a part of the picture', () => {
  const big: Layout = { width: 700, height: 520, depth: 8, channels: 3 };
  const pixels = Uint8Array.from(scene(big.width, big.height, 3), (v) => Math.round(v * 255));
  const stack = stackOf(
    layer('tone', { brightness: 0.1 }),
    layer('blur', { radius: 0.012 }, { blend: 'soft-light' }),
    layer('grain'),
    layer('local-contrast', { fine: 0.5 }),
  );

  it('is the same made alone, with all that it reaches for, as in the whole', async () => {
    const whole = await newEngine();
    whole.open(big).set(pixels);
    const all = new Float32Array(whole.render({ stack, format: 'float' })?.pixels.slice().buffer ?? new ArrayBuffer(0));
    const area: Rect = { x: 320, y: 200, w: 90, h: 70 };
    const reach = reachOf(stack, filmPlaceOf(big));
    expect(reach).toBeGreaterThan(30);
    const [left, top] = [area.x - reach, area.y - reach].map((v) => Math.max(0, Math.floor(v / GRID) * GRID)) as [number, number];
    const [w, h] = [Math.min(big.width, area.x + area.w + reach) - left, Math.min(big.height, area.y + area.h + reach) - top];
    const part = await newEngine();
    const into = part.open({ ...big, width: w, height: h }, partPlaceOf(big, left, top));
    for (let y = 0; y < h; y++) into.set(pixels.subarray(3 * ((top + y) * 700 + left), 3 * ((top + y) * 700 + left + w)), 3 * y * w);
    const alone = new Float32Array(
      part.render({ stack, format: 'float', area: { ...area, x: area.x - left, y: area.y - top } })?.pixels.slice().buffer ?? new ArrayBuffer(0),
    );
    let most = 0;
    for (let y = 0; y < area.h; y++)
      for (let x = 0; x < 4 * area.w; x++)
        most = Math.max(most, Math.abs((alone[4 * y * area.w + x] as number) - (all[4 * ((area.y + y) * 700 + area.x) + x] as number)));
    expect(most).toBeLessThan(1e-4);
  });

  it('is the same where the whole is so large that it is reduced by wide tiles', async () => {
    const large: Layout = { width: 4200, height: 3200, depth: 8, channels: 3 };
    /** Squares within squares, eight pixels to a step. */
    const fillFrom = (into: Uint8Array, left: number, top: number, w: number): void => {
      const row = new Uint8Array(3 * w);
      for (let y = 0; y < into.length / row.length; y++) {
        if (y === 0 || (top + y) % 8 === 0) for (let i = 0; i < row.length; i++) row[i] = ((left + Math.floor(i / 3)) >> 3) ^ ((top + y) >> 3);
        into.set(row, y * row.length);
      }
    };
    const glow = stackOf(layer('tone', { contrast: 0.1 }, { blend: 'screen' }), layer('blur', { radius: 30 / large.width }));
    // About the corner where four of those tiles meet.
    const area: Rect = { x: 2090, y: 340, w: 60, h: 50 };
    const reach = reachOf(glow, filmPlaceOf(large));
    const [left, top] = [area.x - reach, area.y - reach].map((v) => Math.max(0, Math.floor(v / GRID) * GRID)) as [number, number];
    const [w, h] = [area.x + area.w + reach - left, area.y + area.h + reach - top];
    const [whole, part] = [await newEngine(), await newEngine()];
    fillFrom(whole.open(large), 0, 0, large.width);
    fillFrom(part.open({ ...large, width: w, height: h }, partPlaceOf(large, left, top)), left, top, w);
    const made = [
      whole.render({ stack: glow, format: 'float', area }),
      part.render({ stack: glow, format: 'float', area: { ...area, x: area.x - left, y: area.y - top } }),
    ].map((rendered) => new Float32Array(rendered?.pixels.slice().buffer ?? new ArrayBuffer(0)));
    const [inWhole = new Float32Array(), alone = new Float32Array()] = made;
    expect(inWhole).toHaveLength(4 * area.w * area.h);
    expect(inWhole.reduce((most, v, i) => Math.max(most, Math.abs(v - (alone[i] as number))), 0)).toBeLessThan(1e-5);
  });

  it('keeps its grain when the photo is cropped', async () => {
    const grainy = stackOf(layer('grain', { amount: 0.8 }));
    const geometry = { ...asItCame, crop: { x: 0.3, y: 0.25, width: 0.4, height: 0.5 } };
    const engine = await newEngine();
    engine.open(big).set(pixels);
    const all = engine.render({ stack: grainy, format: 'float' })?.pixels.slice();
    const size = pictureSize(geometry, big);
    engine.shape(
      shapeOf(geometry, { photo: big, rect: { x: 0, y: 0, w: 700, h: 520 }, layout: big }, size, { x: 0, y: 0, w: size.width, h: size.height }),
    );
    const part = engine.render({ stack: grainy, format: 'float' })?.pixels.slice();
    const row = (from: Uint8Array | undefined, at: number): Float32Array =>
      new Float32Array((from as Uint8Array).slice(at, at + 16 * size.width).buffer);
    expect(row(part, 16 * 5 * size.width)).toEqual(row(all, 16 * ((130 + 5) * 700 + 210)));
  });

  it('copies pixels only where they fall on pixels', () => {
    expect(copies([1, 0, 12, 0, 1, -4, 0, 0, 1])).toBe(true);
    expect(copies([1, 0, 12.5, 0, 1, -4, 0, 0, 1])).toBe(false);
  });
});
