import { converter } from 'culori';
import { putBackLights } from '@bexlen/render/decode/highlights';

type Rgb = readonly [number, number, number];
const inOklab = converter('oklab');
const labOf = ([r, g, b]: Rgb): Rgb => {
  const { l, a, b: yellow } = inOklab({ mode: 'lrgb', r, g, b });
  return [l, a, yellow];
};
const [WIDTH, HEIGHT] = [160, 120];
/** White is where green is full; red and blue hold more. */
const WHITE = 32_767;
const FULL = [65_535, WHITE, 54_600] as const;
const hueOf = ([, a, b]: Rgb): number => (Math.atan2(b, a) * 180) / Math.PI;
const apart = (one: number, two: number): number => Math.abs(((one - two + 540) % 360) - 180);

/** A lamp of a colour that fades into its surroundings, as a sensor sees it, and as it was. */
function lamp(colour: Rgb, bright: number): { seen: Uint16Array; was: Rgb[] } {
  const was: Rgb[] = [];
  const seen = new Uint16Array(3 * WIDTH * HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const [x, y] = [(i % WIDTH) - WIDTH / 2, Math.floor(i / WIDTH) - HEIGHT / 2];
    const light = 0.05 + bright * Math.exp(-(x * x + y * y) / 900);
    was.push(colour.map((v) => v * light) as unknown as Rgb);
    colour.forEach((v, c) => (seen[3 * i + c] = Math.min(FULL[c] as number, Math.round(v * light * WHITE))));
  }
  return { seen, was };
}

it.each([
  ['orange', [1, 0.62, 0.3]],
  ['red', [1, 0.3, 0.25]],
  ['yellow', [1, 0.9, 0.3]],
  ['green', [0.4, 1, 0.45]],
  ['cyan', [0.4, 1, 1]],
  ['blue', [0.35, 0.5, 1]],
  ['lavender', [0.8, 0.65, 1]],
  ['pink', [1, 0.55, 0.7]],
] as [string, Rgb][])('the light of a lamp that is %s is put back at its hue, or goes to white', (_, colour) => {
  for (const bright of [1.2, 2, 4]) {
    const { seen, was } = lamp(colour, bright);
    putBackLights(seen, WIDTH, HEIGHT, FULL);
    let furthest = 0;
    was.forEach((light, i) => {
      const made = labOf([0, 1, 2].map((c) => (seen[3 * i + c] as number) / WHITE) as unknown as Rgb);
      if (Math.hypot(made[1], made[2]) > 0.03) furthest = Math.max(furthest, apart(hueOf(made), hueOf(labOf(light))));
    });
    expect([bright, furthest < 10 ? 0 : Math.round(furthest)]).toEqual([bright, 0]);
    const middle = 3 * ((HEIGHT / 2) * WIDTH + WIDTH / 2);
    if (colour.every((v, c) => v * bright > (1.1 * (FULL[c] as number)) / WHITE)) expect(new Set(seen.slice(middle, middle + 3)).size).toBe(1);
  }
});

it('what is not full stays as it is', () => {
  const { seen } = lamp([0.8, 0.6, 0.5], 0.9);
  const before = seen.slice();
  putBackLights(seen, WIDTH, HEIGHT, FULL);
  expect(seen).toEqual(before);
});
