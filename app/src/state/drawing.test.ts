import type { ToWorker } from '@bexlen/core/engine';
import { beginDrawing, drawnBy, letGraphicsDraw, useDrawing } from './drawing';

type Wish = Extract<ToWorker, { type: 'graphics' }>;
const kept = new Map<string, string>();
let wishes: Wish[];

beforeEach(() => {
  kept.clear();
  wishes = [];
  Object.defineProperty(globalThis, 'navigator', { value: { userAgent: 'a browser' }, configurable: true });
  Object.defineProperty(globalThis, 'localStorage', {
    value: { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value) },
    configurable: true,
  });
});
const begin = (engine: string): void => beginDrawing(engine, (wish) => wishes.push(wish));

describe('the graphics processor of a browser', () => {
  it('proves itself anew to another engine only', () => {
    begin('one');
    drawnBy({ machine: 'gpu', name: 'a processor' });
    expect(useDrawing.getState().drawing).toEqual({ machine: 'gpu', name: 'a processor' });
    begin('one');
    begin('another');
    expect(wishes.map(({ proven }) => proven)).toEqual([undefined, 'a processor', undefined]);
  });

  it('is switched off and on, which is kept, and why it does not draw is told', () => {
    begin('one');
    letGraphicsDraw(false);
    drawnBy({ machine: 'cpu', why: 'The graphics processor is switched off.' });
    expect(useDrawing.getState()).toMatchObject({ use: 'off', drawing: { machine: 'cpu', why: 'The graphics processor is switched off.' } });
    begin('one');
    letGraphicsDraw(true);
    expect(wishes.map(({ use }) => use)).toEqual(['on', 'off', 'off', 'on']);
  });
});
