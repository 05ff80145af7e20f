import { fill } from '../../../test/engine';
import { layer, newEngine, scene, stackOf } from '../../../test/kernels';
import { PHOTO, type Step } from '../../stack/program';
import { PixelFormats } from './pixel-format';
import type { Layer } from '../../stack/schema';

const point = (to: number, op: 'affine' | 'toOklab', from: number): Step => ({ do: 'point', to, op, from: [from], numbers: [] });
const mix = (to: number, under: number, over: number, own?: string): Step => ({
  do: 'mix',
  to,
  under,
  over,
  mode: 'multiply',
  strength: 0.5,
  ...(own && { own }),
});
const all = (formats: PixelFormats, ...values: number[]): string[] => values.map((value) => formats.ofValue(value));

describe('formats of rows', () => {
  it('are RGB where no step minds the pixel, and pixels where there is alpha', () => {
    const steps = [point(1, 'affine', PHOTO), mix(2, PHOTO, 1)];
    expect(all(new PixelFormats(steps, true), PHOTO, 1, 2)).toEqual(['rgb', 'rgb', 'rgb']);
    expect(all(new PixelFormats(steps, false), PHOTO, 1, 2)).toEqual(['rgba', 'rgba', 'rgba']);
    expect(all(new PixelFormats([], true), PHOTO)).toEqual(['rgb']);
  });

  it('are pixels up to the last step that minds it, and RGB from there on', () => {
    const steps = [point(1, 'affine', PHOTO), point(2, 'toOklab', 1), point(3, 'affine', 2), mix(4, 3, 3)];
    const formats = new PixelFormats(steps, true);
    expect(all(formats, PHOTO, 1, 2, 3, 4)).toEqual(['rgba', 'rgba', 'rgba', 'rgb', 'rgb']);
    expect(steps.map((step) => formats.ofStep(step))).toEqual(['rgba', 'rgba', 'rgb', 'rgb']);
  });

  it('stay pixels where more rows would be brought over than steps gain by it', () => {
    const steps = [point(1, 'toOklab', PHOTO), mix(2, PHOTO, 1)];
    expect(all(new PixelFormats(steps, true), PHOTO, 1, 2)).toEqual(['rgba', 'rgba', 'rgba']);
    expect(all(new PixelFormats([point(1, 'affine', PHOTO), mix(2, 1, 1, 'gate')], true), 1, 2)).toEqual(['rgba', 'rgba']);
  });

  const [width, height] = [150, 70];
  const values = scene(width, height, 4);
  const words = async (channels: 3 | 4, ...layers: Layer[]): Promise<Uint16Array> => {
    const engine = await newEngine();
    fill(engine, { width, height, depth: 16, channels }, (i) =>
      i % channels === 3 ? 1 : (values[4 * Math.floor(i / channels) + (i % channels)] as number),
    );
    const { pixels } = engine.render({ stack: stackOf(...layers), format: 'rgb16' }) ?? { pixels: new Uint8Array() };
    return new Uint16Array(pixels.slice().buffer);
  };
  const saturated = layer('saturation', { amount: 0.3 });
  const brighter = layer('tone', { brightness: 0.1 }, { blend: 'screen', strength: 0.4 });
  const veil = layer('blur', { radius: 0.05 }, { blend: 'multiply', strength: 0.5 });
  const crisp = layer('blur', { radius: 0.012 }, { blend: 'overlay', strength: 0.5 });
  const mixed = layer('channel-mix', { redFromRed: 0.8, redFromBlue: 0.3 }, { strength: 0.6 });
  it.each([
    ['a matrix alone', [mixed]],
    ['a matrix among others', [brighter, mixed, veil]],
    ['pixels, then RGB rows', [saturated, brighter, veil]],
    ['RGB rows between pixels', [saturated, brighter, mixed, saturated, veil]],
    ['small blurs', [saturated, crisp, brighter, crisp]],
  ])('make no difference to the picture: %s', async (_, layers) => {
    const [withRgbRows, pixels] = [await words(3, ...layers), await words(4, ...layers)];
    const worst = withRgbRows.reduce((most, v, i) => Math.max(most, Math.abs(v - (pixels[i] as number))), 0);
    // A run of steps that became one table may be off by an eighth of a level of 8 bits.
    expect(worst).toBeLessThan(65535 / 2040 + 2);
  });
});
