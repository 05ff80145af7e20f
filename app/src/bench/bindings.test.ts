import { asTheyCame, bind, bindingsFile, conflictOf, keyOf, takeBindings } from './bindings';

const all = [
  { id: 'split', key: 'l', words: 'Split line' },
  { id: 'histogram', key: 't', words: 'Histogram' },
];
beforeEach(() => asTheyCame());

it('a key can be given to something else, and taken back', () => {
  bind('split', 'x');
  expect(all.map((each) => keyOf(each))).toEqual(['x', 't']);
  asTheyCame();
  expect(all.map((each) => keyOf(each))).toEqual(['l', 't']);
});

it.each([
  ['t', /T does “Histogram”/],
  ['Tab', /belongs to the controls/],
  ['l', undefined],
  ['x', undefined],
])('says what stands against %s', (key, why) => {
  const conflict = conflictOf(all, 'split', key);
  if (why) expect(conflict).toMatch(why);
  else expect(conflict).toBeUndefined();
});

it('keys come back from the file that they were saved in', () => {
  bind('split', 'x');
  const text = bindingsFile();
  asTheyCame();
  expect(takeBindings(all, text)).toBeUndefined();
  expect(keyOf(all[0] as (typeof all)[number])).toBe('x');
});

it.each([
  ['{', /no file of keys/],
  ['{"keys":2,"bindings":{}}', /no file of keys/],
  ['{"keys":1,"bindings":{"split":"t"}}', /T is assigned twice/],
  ['{"keys":1,"bindings":{"split":"Tab"}}', /belongs to the controls/],
])('a file that is wrong is refused, and changes nothing: %s', (text, why) => {
  expect(takeBindings(all, text)).toMatch(why);
  expect(all.map((each) => keyOf(each))).toEqual(['l', 't']);
});
