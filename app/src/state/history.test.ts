import { emptyStack } from '@bexlen/core';
import { MAX_STEPS, type Step } from '@bexlen/api';
import { applied, canRedo, canUndo, difference, recorded, type History } from './history';

const step = (words: string): Step => ({ words, stack: emptyStack });
const start: History = { steps: [step('0')], cursor: 0 };
const grown = (n: number): History =>
  Array.from({ length: n }, (_, i) => `${i + 1}`).reduce((history, words) => recorded(history, step(words)), start);
const said = ({ steps }: History): string => steps.map(({ words }) => words).join(' ');

describe('a history', () => {
  it('goes back and forth, and forgets what was undone when something new is done', () => {
    const three = grown(3);
    expect([canUndo(three), canRedo(three), canUndo(start)]).toEqual([true, false, false]);
    const branched = recorded({ ...three, cursor: 1 }, step('new'));
    expect(said(branched)).toBe('0 1 new');
    expect(branched.cursor).toBe(2);
  });

  it('keeps the latest steps when there are too many', () => {
    const long = grown(MAX_STEPS + 5);
    expect(long.steps).toHaveLength(MAX_STEPS);
    expect(long.steps[0]?.words).toBe('6');
    expect(long.cursor).toBe(MAX_STEPS - 1);
  });

  it('is carried to the server by its differences alone', () => {
    const from = grown(4);
    const to = recorded({ ...from, cursor: 2 }, step('new'));
    const change = difference(from, to, 7);
    expect(change).toMatchObject({ replaces: 7, forget: 0, from: 3, cursor: 3 });
    expect(change.steps.map(({ words }) => words)).toEqual(['new']);
    expect(applied(from, change)).toEqual(to);
  });

  it('carries an undo as nothing but a cursor', () => {
    const from = grown(4);
    const change = difference(from, { ...from, cursor: 1 }, 1);
    expect(change.steps).toEqual([]);
    expect(applied(from, change)).toEqual({ ...from, cursor: 1 });
  });

  it('carries the loss of its oldest steps', () => {
    const from = grown(MAX_STEPS - 1);
    const to = recorded(recorded(from, step('x')), step('y'));
    const change = difference(from, to, 1);
    expect(change.forget).toBe(2);
    expect(said(applied(from, change))).toBe(said(to));
  });

  it('replaces all when nothing is shared', () => {
    const to: History = { steps: [step('a'), step('b')], cursor: 1 };
    expect(applied(grown(3), difference(grown(3), to, 1))).toEqual(to);
  });
});
