import fs from 'node:fs';
import path from 'node:path';
import { definitions, eachSaid, figure, kindOf, localise, type NumberParam } from '..';
import { figuresIn } from '../params/figure';
import { isToldIn, toldIn } from '.';

/** What is the same in every language: proportions. */
const PLAIN = /^\d+ : \d+$/;

it('has German for everything that definitions say', () => {
  const missing = new Set<string>();
  eachSaid(definitions, (text) => {
    if (!PLAIN.test(text) && !isToldIn('de', text)) missing.add(text);
    return text;
  });
  expect([...missing]).toEqual([]);
});

it('has German for every note and sentence of the looks that come with Bexlen', () => {
  const root = path.resolve(import.meta.dirname, '../../..');
  const files = ['looks', 'app/src/lessons/ours'].flatMap((folder) =>
    fs.readdirSync(path.join(root, folder), { recursive: true, encoding: 'utf8' }).map((file) => path.join(root, folder, file)),
  );
  const missing: string[] = [];
  for (const file of files.filter((it) => it.endsWith('.json'))) {
    const look = JSON.parse(fs.readFileSync(file, 'utf8')) as { note?: string; folder: string; says?: string[]; fit?: { note: string }[] };
    // A figure stands where a rule has its sign.
    const rules = (look.fit ?? []).map(({ note }) => note.replace('#', '12 %'));
    for (const text of [look.note ?? '', look.folder, ...(look.says ?? []), ...rules])
      if (text !== '' && toldIn('de', text) === text && !isToldIn('de', text)) missing.push(`${path.basename(file)}: ${text}`);
  }
  expect(missing).toEqual([]);
});

it('tells what stands in the gaps of a message, in the order of the language', () => {
  expect(toldIn('de', 'It has no LUT_1D_SIZE and no LUT_3D_SIZE.')).toBe('Sie hat weder LUT_1D_SIZE noch LUT_3D_SIZE.');
  expect(toldIn('de', 'It should have 12 entries and has 9.')).toBe('Sie sollte 12 Einträge haben und hat 9.');
  expect(toldIn('de', 'Exposure added')).toBe('Belichtung hinzugefügt');
  // What is not in the catalogue stays as it is, and English is what it is.
  expect(toldIn('de', 'My own note (50 %).')).toBe('My own note (50 %).');
  expect(toldIn('en', 'Exposure added')).toBe('Exposure added');
});

it('puts the definitions of a page into its language, with figures as it writes them', () => {
  const stops = kindOf('exposure').params['stops'] as NumberParam;
  const english: string[] = [];
  eachSaid(definitions, (text) => {
    english.push(text);
    return text;
  });
  expect([kindOf('exposure').label, figure(stops, -0.75, 1)]).toEqual(['Exposure', '\u22120.75 EV']);
  localise('de');
  expect([kindOf('exposure').label, stops.label, figure(stops, -0.75, 1), figure(stops, 0, 1)]).toEqual([
    'Belichtung',
    'Blenden',
    '\u22120,75 EV',
    '0,00 EV',
  ]);
  // The tests of other files that run in this process speak English.
  figuresIn('en');
  eachSaid(definitions, () => english.shift() ?? '');
  expect(figure(stops, -0.75, 1)).toBe('\u22120.75 EV');
});
