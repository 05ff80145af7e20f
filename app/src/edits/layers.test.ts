import { emptyStack, find, type KindLayer, type Layer, type Part } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { inForce, layOut, redo, show, undo, useBench } from '../state/bench';
import * as desk from './layers';
import {
  developmentTarget,
  geometryTarget,
  joinTarget,
  layerTarget,
  masterTarget,
  maskTarget,
  partTarget,
  strengthTarget,
  type Target,
} from './target';
import { part } from './masks';

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
    const [blur] = layers() as [KindLayer];
    layerTarget(blur).show({ radius: 0.02 });
    layerTarget(blur).show({ radius: 0.025 });
    expect(now()).not.toBe(useBench.getState().stack());
    expect(steps()).toHaveLength(2);
    layerTarget(blur).keep({ radius: 0.025 });
    expect(steps().at(-1)).toBe('Blur: radius 19 px → 60 px');
    expect(useBench.getState().draft).toBeUndefined();
  });

  it('shows and keeps what is moved by faders anywhere in a stack, and says what it was', () => {
    desk.add('tone');
    const layer = (): KindLayer => layers()[0] as KindLayer;
    part.add(layer(), 'oval');
    const mask = () => layer().mask;
    const [oval] = mask().parts as [Part];
    const cases: readonly [Target, string, number, string, () => unknown][] = [
      [strengthTarget(layer(), 'desk'), 'strength', 0.5, 'Tone: strength 100 % → 50 %', () => layer().strength],
      [maskTarget(layer()), 'density', 0.25, 'Mask of Tone: density 100 % → 25 %', () => mask().density],
      [joinTarget(layer(), oval), 'keep', 0.4, 'Mask of Tone: oval keep to edges 0 % → 40 %', () => mask().parts[0]?.keep],
      [partTarget(layer(), oval), 'width', 0.2, 'Mask of Tone: oval width 600 px → 480 px', () => mask().parts[0]?.params['width']],
      [geometryTarget(now()), 'angleDeg', 2, 'Straighten 0.0° → 2.0°', () => now().geometry.angleDeg],
      [developmentTarget(now()), 'light', 1, 'Development: light 0.00 EV → 1.00 EV', () => now().development?.light],
      [masterTarget(now()), 'master', 0.8, 'Master 100 % → 80 %', () => now().master],
    ];
    for (const [target, name, value, said, read] of cases) {
      const before = [read(), steps().length];
      target.show({ [name]: value });
      expect(useBench.getState().draft).toBeDefined();
      expect([read(), steps().length]).toEqual(before);
      target.keep({ [name]: value });
      expect(read()).toBe(value);
      expect(steps().at(-1)).toBe(said);
      target.keep({ [name]: value });
      expect(steps()).toHaveLength((before[1] as number) + 1);
    }
    expect(mask().parts[0]?.amount).toBe(1);
    expect(now().development?.recovery).toBeGreaterThan(0);
  });

  it('leaves no step for a change that changes nothing', () => {
    desk.add('tone');
    const [tone] = layers() as [KindLayer];
    layerTarget(tone).keep({ brightness: 0 });
    masterTarget(now()).keep({ master: 1 });
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
