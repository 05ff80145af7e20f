import { layer, stackOf } from '../../test/kernels';
import { bands } from '../pixels/bands';
import { atHue, bandValues } from '../kinds/band-params';
import { readLook } from '../looks/look';
import { fromOlder } from './older';
import { readStack } from './read';

const gate = (): unknown => ({ own: level, beneath: level });
const level = {
  shape: 'straight',
  nodes: [
    [0, 1],
    [1, 1],
  ],
};
const old = (kind: string, params: object, rest: object = {}): object => ({
  id: `l-${kind}`,
  name: 'Old',
  kind,
  on: true,
  strength: 1,
  blend: 'normal',
  reads: 'below',
  gate: gate(),
  params,
  ...rest,
});
/** As versions were kept before there was geometry. */
const stack = (...layers: object[]): object => ({ schema: 1, master: 1, layers });

describe('a stack of schema 1', () => {
  it.each([
    ['linear-dodge', 'add'],
    ['linear-burn', 'deepen'],
    ['linear-light', 'push'],
    ['vivid-light', 'etch'],
    ['pin-light', 'outdo'],
    ['darker-color', 'darker-of-two'],
    ['lighter-color', 'lighter-of-two'],
    ['soft-light', 'soft-light'],
    ['subtract', 'subtract'],
  ])('has its blend modes by their names of today, also in groups: %s', (before, now) => {
    const { id, name, on, gate: open } = old('tone', {}) as Record<string, unknown>;
    const group = {
      id: `g-${String(id)}`,
      name,
      on,
      strength: 1,
      reads: 'below',
      gate: open,
      kind: 'group',
      blend: before,
      layers: [old('tone', {}, { blend: before })],
    };
    const read = readStack(stack(group));
    expect(read.schema).toBe(3);
    expect(read.layers[0]).toMatchObject({ blend: now, layers: [{ blend: now }] });
  });

  it('has nine bands of hue that do at their centres what the eight did', () => {
    const params = { red: 0.2, orange: -0.4, yellow: 0.6, green: 0.1, aqua: -0.5, blue: -0.9, purple: 0.3, magenta: 1, weightRed: 0.25 };
    const [mono] = readStack(stack(old('mono-mix', params))).layers;
    const values = (mono as { params: Record<string, number> }).params;
    expect(values).toMatchObject({ weightRed: 0.25, weightBlue: 0 });
    // Between aqua at 195 and blue at 258, by a raised cosine.
    const share = 0.5 - 0.5 * Math.cos((Math.PI * (232 - 195)) / (258 - 195));
    expect(values['sky']).toBeCloseTo(-0.5 * (1 - share) - 0.9 * share, 3);
    expect(values['teal']).toBeLessThan(-0.4);
    bands.forEach(({ hue, id }) => expect(atHue(bandValues(values, ''), hue)).toBeCloseTo(values[id] as number, 9));
    const [hues] = readStack(stack(old('hue-bands', { lightnessBlue: -0.6, hueGreen: 0.5 }))).layers;
    expect((hues as { params: Record<string, number> }).params['lightnessBlue']).toBeLessThan(-0.5);
    expect((hues as { params: Record<string, number> }).params['hueLeaf']).toBeGreaterThan(0.4);
  });

  it('is refused as any other where it is wrong, and one of today is left as it is', () => {
    expect(() => readStack(stack(old('mono-mix', { blue: 'much' })))).toThrow(/layers\.0\.params\.blue/);
    expect(() => readStack(stack(old('mono-mix', { mauve: 1 })))).toThrow(/mauve/);
    expect(() => readStack({ ...stack(), layers: 7 })).toThrow(/layers/);
    const today = stackOf(layer('mono-mix', { sky: -0.5 }, { blend: 'push' }));
    expect(fromOlder(today, 'schema')).toBe(today);
    expect(() => readStack({ ...today, layers: [{ ...today.layers[0], blend: 'pin-light' }] })).toThrow(/blend/);
  });

  it('may be a look, too', () => {
    const { look, faults } = readLook(
      JSON.stringify({ look: 1, name: 'Old', layers: [{ kind: 'mono-mix', blend: 'vivid-light', params: { orange: 0.5 } }] }),
    );
    expect(faults).toEqual([]);
    expect(look?.stack.layers[0]).toMatchObject({ blend: 'etch', kind: 'mono-mix' });
  });
});
