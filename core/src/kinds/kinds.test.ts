import fc from 'fast-check';
import { filmPlaceOf } from '../geometry/shape';
import { kindOf, kinds } from '.';
import { defaults, figure, fromFader, paramsSchema, parseFigure, stepped, toFader } from '../params';
import { readPam, writePam } from '../formats/pam';
import { source } from '../expressions/image';
import type { Params } from '../params';

const params = kinds.flatMap((kind) =>
  Object.entries(kind.params as Params).flatMap(([name, param]) => (param.type === 'number' ? [[`${kind.id} ${name}`, param] as const] : [])),
);
const roundings = { plain: 0.0051, stops: 0.0051, percent: 0.0051, level: 0.0021, length: 0.0021, degrees: 0.51, micrometres: 0.51 };
const place = filmPlaceOf({ width: 3000, height: 2000 });

describe.each(kinds)('$id', (kind) => {
  const definition = kindOf(kind.id);
  it('has defaults that fit its schema, and does what it says by default', () => {
    const values = defaults(definition.params);
    expect(paramsSchema(definition.params).safeParse(values).success).toBe(true);
    const made = definition.work(source, values, place);
    if (definition.byDefault === 'neutral') expect(made).toBe(source);
    else expect(made).not.toBe(source);
  });

  it('takes nothing out of range and nothing more; what is missing has its default', () => {
    const schema = paramsSchema(definition.params);
    const values = defaults(definition.params);
    for (const [name, param] of Object.entries(definition.params)) {
      const beyond =
        param.type === 'number'
          ? [param.min - 1, param.max + 1, NaN, Infinity, '1']
          : [param.type === 'file' || param.type === 'strokes' || param.type === 'photo' ? 'x'.repeat(201) : '', 1, { shape: 'smooth', nodes: [] }];
      for (const bad of [...beyond, null]) expect(schema.safeParse({ ...values, [name]: bad }).success).toBe(false);
    }
    expect(schema.safeParse({ ...values, more: 1 }).success).toBe(false);
    expect(schema.parse({})).toEqual(values);
  });

  it('draws only params that it has on its boards', () => {
    for (const { params, section } of definition.boards ?? [])
      for (const name of params) {
        expect(definition.params[name]?.type).toBe('number');
        if (section !== undefined) expect(definition.params[name]?.section).toBe(section);
      }
  });

  it('shows and starts with values that fit its schema and do something', () => {
    const sets = [...(definition.shown ? [definition.shown] : []), ...(definition.variants ?? []).map((variant) => variant.params)];
    for (const set of sets) {
      const values = paramsSchema(definition.params).parse(set);
      expect(definition.work(source, values, place)).not.toBe(source);
    }
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
        const whole = param.unit === 'plain' && Number.isInteger(param.step);
        return read !== undefined && Math.abs(read - value) <= (whole ? 0.51 : roundings[param.unit]);
      }),
    );
    for (const text of ['', 'much', '1 2', '--3']) expect(parseFigure(param, text, 4000)).toBeUndefined();
  });

  it('steps without noise in the last digits', () => {
    const from = Math.max(param.at, param.min + 3 * param.step);
    expect(stepped(param, stepped(param, from, -3), 3)).toBeCloseTo(from, 9);
  });
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
