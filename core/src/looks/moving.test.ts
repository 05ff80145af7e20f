import { Chance } from '../../test/chance';
import { floats, worst } from '../../test/engine';
import { group, layer, PICTURE, stackOf } from '../../test/kernels';
import { emptyMask, newPart } from '../masks/mask';
import { readStack } from '../stack/read';
import { allLayers, type Stack } from '../stack/schema';
import { fitNotes, needsOf } from './fit';
import { lookFile, lookOf, readLook, type Look } from './look';
import { putOn } from './putting';
import { takeLook } from './taking';

let count = 0;
const newId = (): string => `n${++count}`;
const lookWith = (stack: Stack, rest: Partial<Look> = {}): Look => ({
  name: 'Try',
  fit: [],
  geometry: false,
  strokes: [],
  cubes: {},
  stack,
  ...rest,
});
const oval = { ...emptyMask, parts: [newPart('oval', 'o')] };
const same = (id: string) => ({ ...emptyMask, parts: [{ ...newPart('same-as', 's'), params: { layer: id } }] });

describe('a look that is taken', () => {
  const toned = layer('toning', {}, { name: 'Brown', mask: oval });
  const stack: Stack = { ...stackOf(layer('mono-mix'), group([toned, layer('grain')]), layer('curves', {}, { mask: same(toned.id) })), master: 0.8 };

  it('holds only what was chosen', () => {
    const taken = takeLook(stack, { layers: new Set([toned.id]), masks: false, geometry: false, strokes: false });
    expect(taken.stack.layers).toEqual([{ ...toned, mask: emptyMask }]);
    expect(taken).toMatchObject({ left: [], stack: { master: 1 } });
  });

  it('is all of it unless said, with its master', () => {
    const { stack: all, left } = takeLook(stack, { masks: true, geometry: true, strokes: false });
    expect(all).toEqual(stack);
    expect(left).toEqual([]);
  });

  it('says what has to stay behind', () => {
    const painted = layer('dodge-burn', { strokes: '0'.repeat(32) }, { name: 'Light' });
    const pictured = layer('picture', { photo: PICTURE }, { name: 'Clouds' });
    const linked = layer('tone', {}, { name: 'Linked', mask: same('gone') });
    const { stack: made, left } = takeLook(stackOf(painted, pictured, linked), { masks: true, geometry: false, strokes: false });
    expect(left).toHaveLength(3);
    expect(made.layers.map((it) => (it.kind === 'group' ? 0 : (it.params['strokes'] ?? it.params['photo'] ?? it.mask.parts.length)))).toEqual([
      '',
      '',
      0,
    ]);
  });
});

describe('a look file that is written', () => {
  it('is read as what it was, for stacks at random', () => {
    for (let seed = 0; seed < 40; seed++) {
      const stack = new Chance(seed).stack();
      const free = takeLook(stack, { masks: true, geometry: true, strokes: false }).stack;
      const { look, faults } = lookOf(JSON.parse(JSON.stringify(lookFile(lookWith(free, { folder: 'Here', note: 'x', geometry: true })))));
      expect(faults).toEqual([]);
      const bare = (layers: Stack['layers']): unknown =>
        allLayers(layers).map(({ id: _id, mask: { parts, ...mask }, ...it }) => ({ ...it, mask, parts: parts.length, layers: it.layers?.length }));
      expect(bare(look?.stack.layers ?? [])).toEqual(bare(free.layers));
      expect(look).toMatchObject({ name: 'Try', folder: 'Here', note: 'x', geometry: true });
    }
  });

  it('says nothing that goes without saying', () => {
    expect(lookFile(lookWith(stackOf(layer('tone', { contrast: 0.2 }))))).toEqual({
      look: 3,
      name: 'Try',
      layers: [{ kind: 'tone', params: { contrast: 0.2 } }],
    });
  });

  it('keeps links between masks', () => {
    const first = layer('tone', {}, { mask: oval });
    const file = lookFile(lookWith(stackOf(layer('grain'), first, layer('blur', {}, { mask: same(first.id) }))));
    const { look } = lookOf(file);
    expect(look?.stack.layers[2]?.mask.parts[0]?.params['layer']).toBe(look?.stack.layers[1]?.id);
  });
});

describe('a look that is put on', () => {
  const given = stackOf(layer('tone', { contrast: 0.3 }), layer('grade', { shadowsHue: 200, shadowsAmount: 0.4 }));
  const base = stackOf(layer('exposure', { stops: 0.5 }));
  const layout = { width: 40, height: 30, depth: 16, channels: 3 } as const;
  const values = new Chance(3).proof(layout);

  it('goes over, under, or in place of what is there, with ids of its own', () => {
    const kindsOf = (stack: Stack): string[] => stack.layers.map(({ kind }) => kind);
    const on = (where: 'over' | 'under' | 'instead', strength = 1): Stack => readStack(putOn(base, lookWith(given), { where, strength, newId }));
    expect(kindsOf(on('over'))).toEqual(['exposure', 'group']);
    expect(kindsOf(on('under'))).toEqual(['group', 'exposure']);
    expect(kindsOf(on('instead'))).toEqual(['tone', 'grade']);
    expect(on('over', 0.4).layers[1]).toMatchObject({ name: 'Try', strength: 0.4 });
    expect(on('over').layers[1]?.id).not.toBe(given.layers[0]?.id);
  });

  it('over at a strength lies between without and with it', async () => {
    const [without, whole, half] = await Promise.all(
      [base, ...[1, 0.5].map((strength) => putOn(base, lookWith(given), { where: 'over', strength, newId }))].map((stack) =>
        floats(stack, layout, values),
      ),
    );
    const between = (whole as Float32Array).map((v, i) => (v + ((without as Float32Array)[i] as number)) / 2);
    expect(worst(half as Float32Array, between)).toBeLessThan(2e-3);
  });

  it('of one layer takes the strength as its own', () => {
    const one = stackOf(layer('toning', {}, { strength: 0.7 }));
    expect(putOn(base, lookWith(one), { where: 'over', strength: 0.5, newId }).layers[1]).toMatchObject({ kind: 'toning', strength: 0.35 });
  });

  it('brings its crop only if that is part of it', () => {
    const cropped: Stack = { ...given, geometry: { ...given.geometry, turn: 90 } };
    const turn = (geometry: boolean): number => putOn(base, lookWith(cropped, { geometry }), { where: 'over', strength: 1, newId }).geometry.turn;
    expect([turn(false), turn(true)]).toEqual([0, 90]);
  });

  it('is refused where there would be too many layers', () => {
    const many = stackOf(...Array.from({ length: 150 }, () => layer('tone')));
    expect(() => putOn(many, lookWith(many), { where: 'over', strength: 1, newId })).toThrow(/more layers than a version takes/);
  });
});

describe('what is said of a look', () => {
  const facts = { foliage: 0.03, sky: 0, warm: 0, dark: 0.2, bright: 0, colour: 0.4, tone: 0.5 };
  it('is what its rules find, with the figure', () => {
    const look = lookWith(stackOf(layer('infrared')), { fit: [{ fact: 'foliage', least: 0.05, note: 'Little yellow-green here, #.' }] });
    expect(fitNotes(look, facts)).toEqual(['Little yellow-green here, 3 %.']);
    expect(fitNotes(look, { ...facts, foliage: 0.5 })).toEqual([]);
  });
  it('is what its layers need', () => {
    expect(needsOf(lookWith(stackOf(layer('picture', {}, { name: 'Clouds' }), layer('tone', {}, { name: 'Here', mask: oval }))))).toEqual([
      'a photo for “Clouds”',
      'a place for “Here”',
    ]);
    expect(needsOf(lookWith(stackOf(layer('tone'))))).toEqual([]);
  });
});

it('looks as strangers send them are refused, and quickly', () => {
  const deep = `${'{"look":3,"name":"x","layers":['.padEnd(40)}${'{"kind":"group","layers":['.repeat(2e5)}`;
  expect(readLook(deep).faults[0]?.message).toMatch(/JSON/);
  const nested = `{"look":3,"name":"x","layers":[${'{"kind":"group","layers":['.repeat(4000)}${']}'.repeat(4000)}]}`;
  expect(readLook(nested).faults[0]?.message).toMatch(/nested/);
  const lists = `{"look":3,"name":"x","layers":[{"kind":"tone","params":{"brightness":${'['.repeat(4000)}${']'.repeat(4000)}}}]}`;
  expect(readLook(lists).faults[0]?.path).toBe('layers.0.params.brightness');
});
