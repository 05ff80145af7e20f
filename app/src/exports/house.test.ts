import type { Machine } from '@bexlen/api';
import { namesOf, wordsOfHouse, wordsOfMachine } from './house';

const machine: Machine = { id: 'a', name: 'attic', threads: 4, made: 0, perMinute: 0, silent: false, doing: null };

it('says what the machines of a house come to, without those that are silent', () => {
  const two = [
    { ...machine, perMinute: 12.4 },
    { ...machine, id: 'b', perMinute: 3.2, doing: 'Dunes.jpg' },
    { ...machine, id: 'c', silent: true, perMinute: 9 },
  ];
  expect(wordsOfHouse({ machines: two, waiting: 1 })).toBe('2 machines · 1 file waits · 16 a minute');
  expect(wordsOfHouse({ machines: [machine], waiting: 0 })).toBe('1 machine');
  expect(wordsOfHouse({ machines: [], waiting: 3 })).toBe('No machine makes files; 3 files wait');
});

it('numbers processes of one machine', () => {
  expect(namesOf([machine, { ...machine, name: 'cellar' }, machine])).toEqual(['attic 1', 'cellar', 'attic 2']);
});

it('says what each of them does', () => {
  expect(wordsOfMachine(machine)).toBe('is ready, with 4 threads');
  expect(wordsOfMachine({ ...machine, doing: 'Dunes.jpg', made: 1 })).toBe('makes Dunes.jpg · 1 file so far');
  expect(wordsOfMachine({ ...machine, silent: true, doing: 'Dunes.jpg' })).toBe('is silent; what it was making was given to another');
});
