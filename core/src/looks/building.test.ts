import { kinds, kindOf } from '../kinds';
import { emptyStack } from '../stack/schema';
import { beginning, buildingOf, onItsWay, withoutMissing } from './building';
import { readLook } from './look';

let ids = 0;
const newId = (): string => `new-${++ids}`;
const lookOf = (layers: readonly object[], says?: readonly string[]) => {
  const { look, faults } = readLook(JSON.stringify({ look: 3, name: 'Try', layers, ...(says && { says }) }));
  if (!look) throw new Error(JSON.stringify(faults));
  return look;
};

it('a look has a step for each layer, with its own sentence or what it does and what is set', () => {
  const inside = [{ kind: 'blur' }, { kind: 'grain', name: 'Fine' }];
  const look = lookOf(
    [{ kind: 'exposure', params: { stops: -0.5 } }, { kind: 'group', name: 'Soft', layers: inside }, { kind: 'tone' }],
    ['Darker first.'],
  );
  const { steps } = buildingOf(look, newId, 6000);
  expect(steps.map(({ name, says }) => [name, says])).toEqual([
    ['Exposure', 'Darker first.'],
    ['Soft', '2 layers under one fader: Blur, Fine.'],
    ['Tone', kindOf('tone').note],
  ]);
  const [plain] = buildingOf(lookOf([{ kind: 'exposure', params: { stops: -0.5 } }]), newId, 6000).steps;
  expect(plain?.says).toBe('More or less light, in stops. Here: Stops −0.50 EV.');
});

it.each(kinds.map(({ id }) => id))('%s begins as its kind does, without doing anything, and ends as the look has it', (kind) => {
  const { layers } = buildingOf(lookOf([{ kind, strength: 0.8 }]), newId, 6000);
  const [layer] = layers as [(typeof layers)[number]];
  const from = beginning(layer);
  expect(from.strength).toBe(kindOf(kind).byDefault === 'neutral' ? 0.8 : 0);
  expect(onItsWay(layer, 0)).toEqual(from);
  expect(onItsWay(layer, 1)).toEqual(layer);
  expect(onItsWay(layer, 0.5).strength).toBeCloseTo((from.strength + 0.8) / 2);
});

it('figures go the straight way', () => {
  const [layer] = buildingOf(lookOf([{ kind: 'tone', params: { contrast: 0.4 } }]), newId, 6000).layers;
  expect(layer && onItsWay(layer, 0.25)).toMatchObject({ params: { contrast: 0.1, shadows: 0 } });
});

it('a mask that is the same as that of a step that was left out goes its own way', () => {
  const oval = { parts: [{ id: 'a', part: 'oval' }] };
  const same = { parts: [{ id: 'b', part: 'same-as', params: { layer: 'layer-1' } }] };
  const { layers } = buildingOf(
    lookOf([
      { kind: 'tone', mask: oval },
      { kind: 'grain', mask: same },
    ]),
    newId,
    6000,
  );
  const [first, second] = layers.map(({ id }) => id) as [string, string];
  const with1 = withoutMissing(layers, second, new Set([first]), emptyStack);
  expect(with1?.mask.parts).toMatchObject([{ part: 'same-as', params: { layer: first } }]);
  const without = withoutMissing(layers, second, new Set(), emptyStack);
  expect(without?.mask.parts).toMatchObject([{ part: 'oval' }]);
});
