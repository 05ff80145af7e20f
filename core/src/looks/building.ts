import { kindOf } from '../kinds';
import { figure } from '../params';
import { find, newLayer, remove } from '../stack/edit';
import type { Layer, Stack } from '../stack/schema';
import type { Look } from './look';
import { renewed } from './putting';

/** A step of building a look: one layer, or one group with all that is in it, and why it is there. */
export interface BuildStep {
  readonly id: string;
  readonly name: string;
  readonly says: string;
}

/** A look as it is built up before somebody's eyes: its layers with ids of their own, and the steps in their order. */
export interface Building {
  readonly layers: readonly Layer[];
  readonly steps: readonly BuildStep[];
}

/** @param longEdge of the photo in pixels, by which lengths are told. */
export function buildingOf({ stack, says = [] }: Pick<Look, 'stack' | 'says'>, newId: () => string, longEdge: number): Building {
  const layers = renewed(stack.layers, newId);
  return { layers, steps: layers.map((layer, i) => ({ id: layer.id, name: layer.name, says: says[i] ?? plainSentence(layer, longEdge) })) };
}

/** Figures that are told of a layer at most. */
const MOST_FIGURES = 3;

/** What a layer does and what is set in it, where nobody has said why. */
function plainSentence(layer: Layer, longEdge: number): string {
  if (layer.kind === 'group') return `${layer.layers.length} layers under one fader: ${layer.layers.map(({ name }) => name).join(', ')}.`;
  const { note, params } = kindOf(layer.kind);
  const usual = newLayer(layer.kind, '').params;
  const figures = Object.entries(params)
    .flatMap(([name, param]) =>
      param.type === 'number' && layer.params[name] !== usual[name] ? [`${param.label} ${figure(param, Number(layer.params[name]), longEdge)}`] : [],
    )
    .slice(0, MOST_FIGURES);
  return figures.length === 0 ? note : `${note} Here: ${figures.join(', ')}.`;
}

/** A layer of a building as it stands where only some of the others are there: a mask that is the same as that of one that is missing goes its own way. */
export function withoutMissing(layers: readonly Layer[], id: string, there: ReadonlySet<string>, on: Stack): Layer | undefined {
  const missing = layers.filter((layer) => layer.id !== id && !there.has(layer.id));
  const left = missing.reduce((stack, layer) => remove(stack, layer.id), { ...on, layers });
  return find(left.layers, id);
}

/** A layer before anything was moved in it: as its kind begins, and without strength where that does something already. */
export function beginning(layer: Layer): Layer {
  if (layer.kind === 'group') return { ...layer, strength: 0 };
  const { byDefault, params } = kindOf(layer.kind);
  const usual = newLayer(layer.kind, '').params;
  const numbers = Object.entries(params).flatMap(([name, { type }]) => (type === 'number' ? [[name, usual[name]]] : []));
  return { ...layer, strength: byDefault === 'neutral' ? layer.strength : 0, params: { ...layer.params, ...Object.fromEntries(numbers) } } as Layer;
}

/** A layer on its way from its beginning: all that is a figure has gone a share of it, 0..1. */
export function onItsWay(layer: Layer, share: number): Layer {
  const from = beginning(layer);
  const between = (a: unknown, b: unknown): unknown => (typeof a === 'number' && typeof b === 'number' ? a + (b - a) * share : b);
  if (share >= 1 || layer.kind === 'group' || from.kind === 'group') return share >= 1 ? layer : { ...layer, strength: layer.strength * share };
  const params = Object.fromEntries(Object.entries(layer.params).map(([name, to]) => [name, between(from.params[name], to)]));
  return { ...layer, strength: between(from.strength, layer.strength) as number, params } as Layer;
}
