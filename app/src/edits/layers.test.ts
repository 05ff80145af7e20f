import { emptyStack, find, type Layer } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { inForce, layOut, redo, show, undo, useBench } from '../state/bench';
import * as desk from './layers';

const photo = { id: 'p', name: 'Dunes', width: 2400, height: 1600, versions: [] } as unknown as Photo;
const now = () => inForce(useBench.getState().history);
const layers = (): readonly Layer[] => now().layers;
const steps = (): string[] => useBench.getState().history.steps.map(({ words }) => words);
let id = 0;
beforeAll(() => {
  Object.defineProperty(globalThis, 'crypto', { value: { randomUUID: () => `${String(++id).padStart(13, '0')}-rest` } });
});
beforeEach(() => layOut(photo, { id: 'v', name: 'Version 1' }, { steps: [{ words: 'As it came', stack: emptyStack }], cursor: 0 }));

describe('the desk', () => {
  it('adds a layer below the open one, opens it, and says so', () => {
    desk.add('tone');
    desk.add('blur');
    useBench.setState({ open: layers()[0]?.id });
    desk.add('levels');
    expect(layers().map(({ kind }) => kind)).toEqual(['tone', 'levels', 'blur']);
    expect(useBench.getState().open).toBe(layers()[1]?.id);
    expect(steps()).toEqual(['As it came', 'Tone added', 'Blur added', 'Levels added']);
  });

  it('shows a held control without keeping it, and keeps it once with its figures', () => {
    desk.add('blur');
    const [blur] = layers() as [Layer];
    desk.values.show(blur, { radius: 0.02 });
    desk.values.show(blur, { radius: 0.025 });
    expect(now()).not.toBe(useBench.getState().stack());
    expect(steps()).toHaveLength(2);
    desk.values.keep(blur, { radius: 0.025 });
    expect(steps().at(-1)).toBe('Blur: radius 19 px → 60 px');
    expect(useBench.getState().draft).toBeUndefined();
  });

  it('leaves no step for a change that changes nothing', () => {
    desk.add('tone');
    const [tone] = layers() as [Layer];
    desk.values.keep(tone, { brightness: 0 });
    desk.master.keep(1);
    show(now());
    expect(steps()).toHaveLength(2);
  });

  it('groups, moves by keys, takes apart, and undoes it all', () => {
    desk.add('tone');
    desk.add('blur');
    const [tone, blur] = layers() as [Layer, Layer];
    desk.groupOnto(blur, tone);
    expect(layers()).toMatchObject([{ kind: 'group', layers: [{ kind: 'tone' }, { kind: 'blur' }] }]);
    expect(desk.moveByKey(find(layers(), blur.id) as Layer, 'earlier')).toBe(true);
    expect(desk.moveByKey(find(layers(), blur.id) as Layer, 'out')).toBe(true);
    expect(layers().map(({ kind }) => kind)).toEqual(['group', 'blur']);
    expect(desk.moveByKey(find(layers(), blur.id) as Layer, 'later')).toBe(false);
    desk.takeApart(layers()[0] as Layer);
    expect(layers().map(({ kind }) => kind)).toEqual(['tone', 'blur']);
    for (let i = 0; i < 6; i++) undo();
    expect(now()).toEqual(emptyStack);
    for (let i = 0; i < 9; i++) redo();
    expect(layers().map(({ kind }) => kind)).toEqual(['tone', 'blur']);
  });

  it('copies a group with names of their own for all in it', () => {
    desk.add('tone');
    desk.add('blur');
    const [tone, blur] = layers() as [Layer, Layer];
    desk.groupOnto(blur, tone);
    desk.duplicate(layers()[0] as Layer);
    const ids = desk.deskRows(now()).map(({ layer }) => layer.id);
    expect(ids).toHaveLength(6);
    expect(new Set(ids).size).toBe(6);
  });
});
