import { floats } from '../../test/engine';
import { group, layer, PICTURE, resources, stackOf } from '../../test/kernels';
import { mapped } from '../geometry/matrix';
import { filmPlaceOf } from '../geometry/shape';
import { compact } from '../stack/compact';
import { find, insert, move, parentOf, remove, ungroup } from '../stack/edit';
import { readStack } from '../stack/read';
import { namedIn } from '../stack/references';
import { picturesNeeded } from '../stack/needs';
import { allLayers } from '../stack/schema';
import { cornersOf, isConvex, sidesOf, toCorners, type Placing } from './placing';

const flat: Placing = { x: 0.1, y: -0.05, size: 0.6, aspect: 0.5, angle: 0, mirrored: false, pulls: [] };
const layout = { width: 120, height: 80, depth: 8, channels: 3 } as const;

describe('where a picture lies', () => {
  it.each([
    ['plain', flat],
    ['turned and mirrored', { ...flat, angle: 33, mirrored: true }],
    [
      'pulled by its corners',
      {
        ...flat,
        pulls: [
          [0.05, 0.02],
          [-0.1, 0],
          [0, 0.04],
          [0.02, -0.03],
        ],
      } as Placing,
    ],
  ])('its corners are where its map leads: %s', (_, placing) => {
    const corners = cornersOf(placing);
    const map = toCorners(corners);
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ].forEach(([u = 0, v = 0], i) => {
      const [x, y] = mapped(map, u, v);
      expect([x, y]).toEqual([expect.closeTo(corners[i]?.[0] ?? NaN, 9), expect.closeTo(corners[i]?.[1] ?? NaN, 9)]);
    });
    expect(isConvex(corners)).toBe(true);
  });

  it('a corner pulled past the others is told', () =>
    expect(
      isConvex(
        cornersOf({
          ...flat,
          pulls: [
            [0.7, 0.4],
            [0, 0],
            [0, 0],
            [0, 0],
          ],
        }),
      ),
    ).toBe(false));

  it('its sides are positive within and negative beyond, mirrored or not', () => {
    for (const mirrored of [false, true]) {
      const sides = sidesOf(filmPlaceOf(layout).map, cornersOf({ ...flat, mirrored }));
      const at = (x: number, y: number): number[] =>
        [0, 1, 2, 3].map((k) => (sides[k] as number) * x + (sides[4 + k] as number) * y + (sides[8 + k] as number));
      expect(at(72, 34).every((v) => v > 0)).toBe(true);
      expect(at(2, 2).some((v) => v < 0)).toBe(true);
    }
  });
});

describe('a picture among layers', () => {
  const over = layer('picture', { photo: PICTURE, size: 0.4, aspect: 0.7 });
  const stack = stackOf(layer('tone'), { ...over, layers: [layer('levels')] }, layer('blur'));
  const inner = allLayers(stack.layers)[2]?.id ?? '';

  it('takes layers in and lets them out, stays when it is empty, and is not taken apart', () => {
    const blur = stack.layers[2]?.id ?? '';
    const taken = move(stack, blur, { into: over.id });
    expect(find(taken.layers, over.id)?.layers).toHaveLength(2);
    expect(parentOf(taken.layers, blur)?.id).toBe(over.id);
    expect(find(remove(stack, inner).layers, over.id)?.layers).toEqual([]);
    expect(ungroup(stack, over.id)).toBe(stack);
    expect(insert(stack, layer('grain'), { into: over.id }).layers).toHaveLength(3);
  });

  it('goes over the wire and comes back', () => expect(readStack(compact(stack))).toEqual(stack));

  it('says which photos it needs, and how large', () => {
    expect(namedIn(stackOf(group([over])).layers, 'photo')).toEqual([PICTURE]);
    expect(picturesNeeded(stack).get(PICTURE)).toMatchObject({ layer: 'Picture', share: 0.4 });
    expect(picturesNeeded(stackOf({ ...over, on: false })).size).toBe(0);
  });

  it('changes only what it covers, and its layers only it', async () => {
    const values = (): number => 0.5;
    const plain = await floats(stackOf(), layout, values);
    const laid = await floats(stackOf(over), layout, values);
    const darker = await floats(stackOf({ ...over, layers: [layer('exposure', { stops: -2 })] }), layout, values);
    const at = (image: Float32Array, x: number, y: number): number[] => [
      ...image.subarray(4 * (y * layout.width + x), 4 * (y * layout.width + x) + 3),
    ];
    expect(at(laid, 3, 3)).toEqual(at(plain, 3, 3));
    expect(at(darker, 3, 3)).toEqual(at(plain, 3, 3));
    expect(at(laid, 60, 40)).not.toEqual(at(plain, 60, 40));
    expect((at(darker, 60, 40)[0] as number) < (at(laid, 60, 40)[0] as number)).toBe(true);
  });

  it('does nothing while its photo is not at hand', async () => {
    const values = (i: number): number => (i % 7) / 7;
    expect(await floats(stackOf(layer('picture', { photo: 'nowhere' })), layout, values)).toEqual(await floats(stackOf(), layout, values));
  });
});

describe('pixels of pictures', () => {
  const white = { layout: { width: 64, height: 32, depth: 8, channels: 3 } as const, bytes: new Uint8Array(64 * 32 * 3).fill(255) };
  it('are halved until one or two come to one of what is made', () => {
    resources.pictures.set('white', white);
    expect(resources.pictures.pixelsFor('white', (w) => w / 10)?.layout).toMatchObject({ width: 16, height: 8 });
    expect(resources.pictures.pixelsFor('white', (w) => w / 40)?.layout).toMatchObject({ width: 64 });
    expect(resources.pictures.pixelsFor('white', (w) => w / 10)?.bytes.every((v) => v === 255)).toBe(true);
  });
  it('are told apart when they come anew, and forgotten', () => {
    resources.pictures.set('white', white);
    const first = resources.pictures.keyOf('white');
    resources.pictures.set('white', white);
    expect(resources.pictures.keyOf('white')).not.toBe(first);
    resources.pictures.delete('white');
    expect(resources.pictures.keyOf('white')).toBeUndefined();
  });
});

describe('a wide picture of a fine texture', () => {
  const [width, height] = [501, 101];
  const wave = (x: number, y: number): number => 0.5 + 0.4 * Math.sin(x * 0.9) * Math.sin(y * 0.9);
  const bytes = Uint8Array.from({ length: width * height * 3 }, (_, i) => {
    const p = Math.floor(i / 3);
    return Math.round(255 * wave(p % width, Math.floor(p / width)));
  });
  const square = { width: 560, height: 560, depth: 8, channels: 3 } as const;
  /** Deviation of the middle of it, laid over grey at its own size, turned. */
  const deviation = async (angle: number, size = width / 560): Promise<number> => {
    resources.pictures.set('texture', { layout: { width, height, depth: 8, channels: 3 }, bytes });
    const laid = layer('picture', { photo: 'texture', size, aspect: height / width, angle });
    const image = await floats(stackOf(laid), square, () => 0.5);
    const middle: number[] = [];
    const [a, b] = angle % 180 === 0 ? [40, 30] : [30, 40];
    for (let y = 280 - b; y < 280 + b; y++) for (let x = 280 - a; x < 280 + a; x++) middle.push(image[4 * (y * 560 + x)] as number);
    const mean = middle.reduce((sum, v) => sum + v, 0) / middle.length;
    return Math.sqrt(middle.reduce((sum, v) => sum + (v - mean) ** 2, 0) / middle.length);
  };

  it.each([90, 180, 270])('keeps its contrast when it is turned by %d degrees', async (angle) => {
    const plain = await deviation(0);
    expect(plain).toBeGreaterThan(0.15);
    expect(Math.abs((await deviation(angle)) / plain - 1)).toBeLessThan(0.02);
  });

  it.each([90, 270])('keeps it at half its size too, where it is halved first: %d degrees', async (angle) => {
    const half = (width / 560) * 0.45;
    const plain = await deviation(0, half);
    expect(Math.abs((await deviation(angle, half)) / plain - 1)).toBeLessThan(0.02);
  });

  it('ends where it ends, though it is halved and its sides are odd', () => {
    resources.pictures.set('texture', { layout: { width, height, depth: 8, channels: 3 }, bytes });
    const halved = resources.pictures.pixelsFor('texture', (w) => (w === width ? 2 : 1));
    expect(halved?.layout).toMatchObject({ width: 251, height: 51 });
    expect([halved?.width, halved?.height]).toEqual([250.5, 50.5]);
  });
});
