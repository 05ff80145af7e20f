import { inverse, type Matrix } from '../geometry/matrix';
import { encodeRgb, times, type Rgb } from '../pixels/colour';
import { floats } from '../../test/engine';
import { sequence, stackOf } from '../../test/kernels';
import { proxyOf } from '../formats/proxy';
import type { Layout } from '../pixels/picture';
import { asShot, developedProxy, greyAt } from './development';
import { balance } from './white-balance';

it.each([
  ['nothing', asShot],
  ['more light and all of the highlights', { ...asShot, light: 1.5, recovery: 1 }],
  ['another light, and highlights cut off', { light: -0.7, warmth: 0.6, tint: -0.3, recovery: 0 }],
])('the small picture of a raw photo, by which parts find what hangs together, is developed as the photo is: %s', async (_, development) => {
  const layout: Layout = { width: 16, height: 12, depth: 16, channels: 3, gamut: 'display-p3', headroom: 2 };
  const next = sequence(7);
  const values = Uint16Array.from({ length: 3 * layout.width * layout.height }, () => Math.round(65535 * next()));
  const made = await floats({ ...stackOf(), development }, layout, (i) => (values[i] as number) / 65535);
  const { pixels } = developedProxy(proxyOf({ layout, pixels: new Uint8Array(values.buffer) }), development, 'display-p3');
  const off = Array.from(pixels, (v, i) => Math.abs(v - 255 * Math.min(1, Math.max(0, made[4 * Math.floor(i / 3) + (i % 3)] as number))));
  expect(Math.max(...off)).toBeLessThan(0.6);
});

describe('a grey that is picked', () => {
  it('gives the warmth and tint of the light that it lies in, whatever was chosen before', () => {
    const next = sequence(31);
    const between = (least: number, most: number): number => least + (most - least) * next();
    for (let i = 0; i < 200; i++) {
      const light = { warmth: between(-0.95, 0.95), tint: between(-0.9, 0.9) };
      const chosen = { ...asShot, warmth: between(-0.5, 0.5), tint: between(-0.5, 0.5) };
      const undo = inverse(balance(light.warmth, light.tint).flat() as unknown as Matrix);
      const grey = between(0.02, 0.4);
      // What a sensor has of a grey in that light, and how that is seen under what was chosen before.
      const held = times([undo.slice(0, 3), undo.slice(3, 6), undo.slice(6)] as never, [grey, grey, grey]);
      const seen = times(balance(chosen.warmth, chosen.tint) as never, held);
      if (seen.some((v) => v <= 0 || v >= 1)) continue;
      const found = greyAt(encodeRgb(seen), 'srgb', chosen);
      expect(found.warmth).toBeCloseTo(light.warmth, 3);
      expect(found.tint).toBeCloseTo(light.tint, 3);
    }
  });

  it('is held at the ends of both, and is nothing where all is black', () => {
    const strange = greyAt([0.1, 0.9, 0.1], 'srgb', asShot);
    expect(Math.max(Math.abs(strange.warmth), Math.abs(strange.tint))).toBeLessThanOrEqual(1);
    const black: Rgb = [0, 0, 0];
    expect(greyAt(black, 'display-p3', { ...asShot, warmth: 0.3 })).toMatchObject({ warmth: 0.3 });
  });
});
