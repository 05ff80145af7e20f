import { emptyStack, lookOf, type Look } from '@bexlen/core';
import { commit, inForce, layOut, useBench } from '../state/bench';
import { beginLesson, endLesson, leaveOut, stepBack, takeStep, useLesson } from './lesson';
import { ourLessons } from './ours';

const photo = { id: 'p', width: 600, height: 400, versions: [] } as never;
const look = lookOf({
  look: 3,
  name: 'Three',
  says: ['One.', 'Two.', 'Three.'],
  layers: [{ kind: 'tone', params: { contrast: 0.4 } }, { kind: 'grain' }, { kind: 'vignette' }],
}).look as Look;
const names = (): string[] => inForce(useBench.getState().history).layers.map(({ name }) => name);
const at = (): number | undefined => useLesson.getState().lesson?.at;

beforeEach(() => {
  jest.useFakeTimers();
  layOut(photo, { id: `v${Math.random()}`, name: 'V' }, { steps: [{ words: 'As it came', stack: emptyStack }], cursor: 0 });
});
afterEach(() => jest.useRealTimers());

it('is built step by step: taken, left out, and gone back to', () => {
  beginLesson(look);
  expect([names(), at()]).toEqual([['Tone'], 0]);
  expect(useBench.getState().open).toBe(inForce(useBench.getState().history).layers[0]?.id);
  takeStep();
  expect(inForce(useBench.getState().history).layers[0]).toMatchObject({ params: { contrast: 0.4 } });
  leaveOut();
  expect([names(), at()]).toEqual([['Tone', 'Vignette'], 2]);
  stepBack();
  expect([names(), at()]).toEqual([['Tone', 'Vignette', 'Grain'], 1]);
  takeStep();
  takeStep();
  expect([names(), at()]).toEqual([['Tone', 'Vignette', 'Grain'], undefined]);
  expect(useBench.getState().notice).toMatch(/“Three” is built/);
});

it('moves the faders while nobody holds one, and leaves the last word to a hand', () => {
  beginLesson(look);
  jest.advanceTimersByTime(600);
  const draft: unknown = useBench.getState().draft?.layers[0];
  expect((draft as { params: { contrast: number } }).params.contrast).toBeGreaterThan(0.05);
  const { layers } = inForce(useBench.getState().history);
  commit(
    { ...emptyStack, layers: layers.map((layer) => ({ ...layer, params: { ...(layer as { params: object }).params, contrast: -0.1 } }) as never) },
    'By hand',
  );
  jest.advanceTimersByTime(3000);
  takeStep();
  expect(inForce(useBench.getState().history).layers[0]).toMatchObject({ params: { contrast: -0.1 } });
});

it('ends with the version, and when it is ended what was built stays', () => {
  beginLesson(look);
  endLesson();
  expect([names(), at()]).toEqual([['Tone'], undefined]);
  expect(inForce(useBench.getState().history).layers[0]).toMatchObject({ params: { contrast: 0.4 } });
  beginLesson(look);
  layOut(photo, { id: 'another', name: 'V' }, { steps: [{ words: 'As it came', stack: emptyStack }], cursor: 0 });
  expect(at()).toBeUndefined();
});

it('ours can be read, and each of their layers has its sentence', () => {
  expect(ourLessons().length).toBe(12);
  for (const { name, says, stack } of ourLessons()) expect([name, says?.length]).toEqual([name, stack.layers.length]);
});
