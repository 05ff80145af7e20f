import { balance } from '../kinds/white-balance';
import type { Bytes } from '../measure/bytes';
import { standOf } from './stand';
import { decode, encode } from '../pixels/colour';
import { emptyStack, type Layer } from '../stack/schema';
import { fitLayer, fitOf, fitWords, USUAL } from './fitting';
import { putOn } from './putting';
import { readLook } from './look';

let ids = 0;
const newId = (): string => `new-${++ids}`;

/** A picture of greys and muted colours, as its light is changed by a function of linear values. */
function scene(light: (rgb: readonly number[]) => readonly number[] = (rgb) => rgb): Bytes {
  const [width, height] = [80, 60];
  const data = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    const tone = 0.02 + (0.33 * ((i * 7) % 101)) / 101;
    const tint = 0.12 * Math.sin(i / 5);
    light([tone * (1 + tint), tone, tone * (1 - tint)]).forEach((v, c) => (data[4 * i + c] = 255 * encode(Math.min(1, Math.max(0, v)))));
    data[4 * i + 3] = 255;
  }
  return { width, height, data };
}
const times =
  (rows: readonly (readonly number[])[]) =>
  (rgb: readonly number[]): number[] =>
    rows.map((row) => row.reduce((sum, v, i) => sum + v * (rgb[i] as number), 0));

it.each([-1.5, -0.5, 0.5, 1.4])('what was exposed by %d stops is taken back', (stops) => {
  const [before, after] = [standOf(scene()), standOf(scene((rgb) => rgb.map((v) => v * 2 ** stops)))];
  const fit = fitOf(after, before);
  expect(fit.stops).toBeCloseTo(-stops, 1);
  expect(Math.abs(fit.warmth)).toBeLessThan(0.03);
  expect(Math.abs(fit.midtone - 1)).toBeLessThan(0.05);
});

it.each([-0.3, 0.25])('light that was made warmer by %d is taken back for the most part', (warmth) => {
  const fit = fitOf(standOf(scene(times(balance(warmth, 0)))), standOf(scene()));
  expect(fit.warmth / -warmth).toBeGreaterThan(0.7);
  expect(fit.warmth / -warmth).toBeLessThan(1.05);
});

it('a photo that stands where the look was made is left as it is', () => {
  const stand = standOf(scene());
  expect(fitLayer(stand, stand, newId)).toBeUndefined();
  expect(fitWords(stand, stand)).toBe('');
});

it('the ends of dull tones are opened, and the middle stays where the look wants it', () => {
  const dull = { ...USUAL, tones: [0.25, 0.42, 0.6] as [number, number, number] };
  const { black, white, stops, midtone } = fitOf(dull, USUAL);
  const lit = encode(decode(0.42) * 2 ** stops);
  expect(black).toBeGreaterThan(0.05);
  expect(white).toBeLessThan(0.8);
  expect(((lit - black) / (white - black)) ** (1 / midtone)).toBeCloseTo(0.42, 2);
});

it.each(['over', 'under', 'instead'] as const)('stands as a channel of its own right under the look, whatever its strength: %s', (where) => {
  const own = readLook(JSON.stringify({ look: 3, name: 'Own', layers: [{ kind: 'tone' }] })).look?.stack.layers as Layer[];
  const { look } = readLook(JSON.stringify({ look: 3, name: 'Two', made: USUAL, layers: [{ kind: 'grain' }, { kind: 'vignette' }] }));
  if (!look) throw new Error('no look');
  const from = { ...USUAL, tones: [0.02, 0.2, 0.5] as [number, number, number] };
  const { layers } = putOn({ ...emptyStack, layers: own }, look, { where, strength: 0.5, from, newId });
  const names = layers.map(({ name, strength }) => [name, strength]);
  const both = [
    ['Fit', 1],
    ['Two', 0.5],
  ];
  const there = [own[0]?.name, 1];
  expect(names).toEqual({ over: [there, ...both], under: [...both, there], instead: both }[where]);
});
