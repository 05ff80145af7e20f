import fc from 'fast-check';
import { group, layer, stackOf } from '../../test/kernels';
import { emptyMask, newPart, type Mask, type Part } from '../masks/mask';
import {
  change,
  countLayers,
  find,
  fits,
  groupWith,
  insert,
  move,
  newLayer,
  ownCopy,
  parentOf,
  remove,
  rows,
  soloed,
  ungroup,
  type Place,
} from './edit';
import { readStack } from './read';
import { MAX_LAYERS, type Layer, type Stack } from './schema';

const named = (id: string): Layer => ({ ...layer('tone'), id });
const grouped = (id: string, ...layers: Layer[]): Layer => ({ ...group(layers), id });
const shape = (layers: readonly Layer[], seen: (layer: Layer) => boolean = () => true): string =>
  layers
    .filter(seen)
    .map((it) => (it.kind === 'group' ? `${it.id}(${shape(it.layers, seen)})` : it.id))
    .join(' ');
const start = (): Stack => stackOf(named('a'), grouped('g', named('b'), named('c')), named('d'));
const of = (stack: Stack): string => shape(stack.layers);

describe('edits of a stack', () => {
  it.each<[string, Place, string]>([
    ['a', { after: 'd' }, 'g(b c) d a'],
    ['d', { before: 'a' }, 'd a g(b c)'],
    ['a', { into: 'g' }, 'g(b c a) d'],
    ['b', { after: 'g' }, 'a g(c) b d'],
    ['d', { before: 'c' }, 'a g(b d c)'],
    ['g', 'end', 'a d g(b c)'],
  ])('moves %s to %o', (id, place, after) => expect(of(move(start(), id, place))).toBe(after));

  it('does not move a group into itself', () => {
    const stack = start();
    expect(move(stack, 'g', { into: 'g' })).toBe(stack);
    expect(move(stack, 'g', { after: 'b' })).toBe(stack);
  });

  it('groups two layers in the order in which the light passes them', () => {
    expect(of(groupWith(start(), 'd', 'a', 'n'))).toBe('n(a d) g(b c)');
    expect(of(groupWith(start(), 'a', 'd', 'n'))).toBe('g(b c) n(a d)');
    expect(of(groupWith(start(), 'a', 'g', 'n'))).toBe('g(b c a) d');
    expect(of(groupWith(start(), 'a', 'b', 'n'))).toBe('g(n(a b) c) d');
  });

  it('takes groups apart, and lets emptied ones go', () => {
    expect(of(ungroup(start(), 'g'))).toBe('a b c d');
    expect(of(remove(remove(start(), 'b'), 'c'))).toBe('a d');
    expect(of(remove(start(), 'g'))).toBe('a d');
  });

  it('refuses to nest too deep', () => {
    const deep = Array.from({ length: 8 }).reduce<Layer>((inner, _, i) => grouped(`g${i}`, inner), named('x'));
    const stack = stackOf(named('y'), deep);
    expect(groupWith(stack, 'y', 'x', 'n')).toBe(stack);
  });

  it('solo keeps a layer, the groups around it, and all that is in it', () => {
    const heard = (ids: string[]): string => shape(soloed(start(), new Set(ids)).layers, ({ on }) => on);
    expect(heard(['c'])).toBe('g(c)');
    expect(heard(['g', 'd'])).toBe('g(b c) d');
    expect(soloed(start(), new Set())).toEqual(start());
  });

  it('leaves what is not touched as the same objects', () => {
    const stack = start();
    const next = change(stack, 'b', (it) => ({ ...it, strength: 0.5 }));
    expect(next.layers[0]).toBe(stack.layers[0]);
    expect(find(next.layers, 'c')).toBe(find(stack.layers, 'c'));
    expect(parentOf(next.layers, 'b')?.id).toBe('g');
    expect(rows(next.layers).map(({ depth }) => depth)).toEqual([0, 0, 1, 1, 0]);
  });

  it('never loses or doubles a layer, wherever it is moved', () => {
    const ids = ['a', 'b', 'c', 'd', 'g'];
    const place = fc.tuple(fc.constantFrom('before', 'after', 'into', 'group'), fc.constantFrom(...ids));
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...ids), place), { maxLength: 12 }), (moves) => {
        let n = 0;
        const end = moves.reduce((stack, [id, [how, at]]) => {
          const next = how === 'group' ? groupWith(stack, id, at, `n${n++}`) : move(stack, id, { [how]: at } as Place);
          return fits(next) ? next : stack;
        }, start());
        const left = rows(end.layers).map((row) => row.layer.id);
        expect(left.filter((id) => id.length === 1 && id !== 'g').sort()).toEqual(['a', 'b', 'c', 'd']);
        expect(new Set(left).size).toBe(left.length);
        expect(readStack(JSON.parse(JSON.stringify(end)))).toEqual(end);
      }),
      { numRuns: 200 },
    );
  });

  it('a new layer fits the schema, and so do as many as a version takes', () => {
    const full = stackOf(...Array.from({ length: MAX_LAYERS }, (_, i) => newLayer('blur', `l${i}`)));
    expect(countLayers(readStack(full).layers)).toBe(MAX_LAYERS);
    expect(() => readStack(insert(full, newLayer('blur', 'more'), 'end'))).toThrow(/at most 200/);
  });
});

describe('masks that are the same as others’', () => {
  const oval = (rest: Partial<Part> = {}): Part => ({ ...newPart('oval', 'o'), ...rest });
  const same = (id: string, rest: Partial<Part> = {}): Part => ({ ...newPart('same-as', 's'), params: { layer: id }, ...rest });
  const withMask = (id: string, parts: Part[], rest: Partial<Mask> = {}): Layer => ({ ...named(id), mask: { ...emptyMask, parts, ...rest } });
  const maskIn = (stack: Stack | undefined, id: string): Mask | undefined => stack && find(stack.layers, id)?.mask;
  let ids = 0;
  const newId = (): string => `n${++ids}`;

  it('become copies when the other goes, also through a chain; among other parts they go too', () => {
    const stack = stackOf(
      withMask('a', [oval()]),
      withMask('b', [same('a')], { inverted: true }),
      withMask('c', [same('b')]),
      withMask('d', [oval(), same('a')]),
    );
    expect(maskIn(remove(stack, 'a'), 'b')).toEqual({ ...emptyMask, parts: [oval()], inverted: true });
    expect(maskIn(remove(stack, 'a'), 'c')).toEqual(maskIn(stack, 'c'));
    expect(maskIn(remove(stack, 'a'), 'd')?.parts).toEqual([oval()]);
    expect(() => readStack(remove(stack, 'a'))).not.toThrow();
    expect(maskIn(remove(stack, 'b'), 'c')).toEqual({ ...emptyMask, parts: [same('a')], inverted: true });
  });
  it('stay what they are when the other is moved or grouped', () => {
    const stack = stackOf(withMask('a', [oval()]), withMask('b', [same('a')]), named('c'));
    expect(maskIn(move(stack, 'a', 'end'), 'b')?.parts).toEqual([same('a')]);
    expect(maskIn(groupWith(stack, 'a', 'c', 'g'), 'b')?.parts).toEqual([same('a')]);
  });
  it('go their own way as copies, inverted as they were', () => {
    const stack = stackOf(withMask('a', [oval({ inverted: true })]), withMask('b', [same('a', { inverted: true, join: 'within' })]));
    const own = maskIn(ownCopy(stack, 'b', 's', newId), 'b');
    expect(own?.parts).toMatchObject([{ part: 'oval', inverted: false, join: 'within' }]);
    const soft = stackOf(withMask('a', [oval(), oval({ id: 'p' })], { soften: 0.01 }), withMask('b', [same('a', { inverted: true })]));
    expect(maskIn(ownCopy(soft, 'b', 's', newId), 'b')).toMatchObject({ soften: 0.01, inverted: true, parts: [{ part: 'oval' }, { part: 'oval' }] });
    const among = stackOf(withMask('a', [oval(), oval({ id: 'p' })]), withMask('b', [oval(), same('a')]));
    expect(ownCopy(among, 'b', 's', newId)).toBeUndefined();
  });
});
