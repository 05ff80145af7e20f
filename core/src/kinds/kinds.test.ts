import fc from 'fast-check';
import { defaults, figure, fromFader, kindOf, kinds, paramsSchema, parseFigure, stepped, toFader } from '.';
import { readPam, writePam } from '../formats/pam';

const params = kinds.flatMap((kind) => Object.entries(kind.params).map(([name, param]) => [`${kind.id} ${name}`, param] as const));

describe.each(kinds)('$id', (kind) => {
  const definition = kindOf(kind.id);
  it('has defaults that fit its schema, and does what it says by default', () => {
    const values = defaults(definition.params);
    expect(paramsSchema(definition.params).safeParse(values).success).toBe(true);
    const work = definition.work(values, { width: 3000, height: 2000 });
    if (definition.byDefault === 'neutral') expect(work).toEqual([]);
    else expect(work.length).toBeGreaterThan(0);
  });

  it('takes nothing out of range, nothing more, nothing less', () => {
    const schema = paramsSchema(definition.params);
    const values = defaults(definition.params);
    for (const [name, { min, max }] of Object.entries(definition.params)) {
      for (const bad of [min - 1, max + 1, NaN, Infinity, '1', null]) expect(schema.safeParse({ ...values, [name]: bad }).success).toBe(false);
      const { [name]: _left, ...rest } = values as Record<string, number>;
      expect(schema.safeParse(rest).success).toBe(false);
    }
    expect(schema.safeParse({ ...values, more: 1 }).success).toBe(false);
  });
});

describe.each(params)('fader of %s', (_name, param) => {
  it('leads to every value and back, ends and default exactly', () => {
    for (const value of [param.min, param.max, param.at]) expect(fromFader(param, toFader(param, value))).toBeCloseTo(value, 9);
    fc.assert(fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (place) => Math.abs(toFader(param, fromFader(param, place)) - place) < 0.02));
  });

  it('shows a figure that can be typed again', () => {
    fc.assert(
      fc.property(fc.double({ min: param.min, max: param.max, noNaN: true }), (value) => {
        const read = parseFigure(param, figure(param, value, 4000), 4000);
        return read !== undefined && Math.abs(read - value) <= (param.unit === 'plain' ? 0.0051 : param.unit === 'percent' ? 0.0051 : 0.0021);
      }),
    );
    for (const text of ['', 'much', '1 2', '--3']) expect(parseFigure(param, text, 4000)).toBeUndefined();
  });

  it('steps without noise in the last digits', () =>
    expect(stepped(param, stepped(param, param.at, -3), 3)).toBeCloseTo(param.at === param.min ? stepped(param, param.min, 3) : param.at, 9));
});

describe('a portable map', () => {
  it('comes back as it went, in both depths', () => {
    for (const depth of [8, 16] as const) {
      const layout = { width: 5, height: 3, depth, channels: 4 } as const;
      const pixels = Uint8Array.from({ length: 60 * (depth / 8) }, (_, i) => (i * 37) & 255);
      expect(readPam(writePam(layout, pixels.slice()))).toEqual({ layout, pixels });
    }
  });
  it('is refused when it is cut off', () => {
    const file = writePam({ width: 5, height: 3, depth: 8, channels: 3 }, new Uint8Array(45));
    expect(() => readPam(file.slice(0, 60))).toThrow(/did not arrive whole/);
    expect(() => readPam(new Uint8Array(10))).toThrow(/did not arrive whole/);
  });
});
