import {
  asShot,
  change,
  channelParams,
  defaults,
  developmentParams,
  find,
  focusShapeOf,
  geometryParams,
  joinParams,
  kindOf,
  maskParams,
  masterParams,
  partKindOf,
  type AnyValues,
  type Focus,
  type KindLayer,
  type Layer,
  type Params,
  type ParamValue,
  type Part,
  type Stack,
} from '@bexlen/core';
import { commit, inForce, show, useBench } from '../state/bench';
import { edgeOf, wordsOfChange } from '../state/words';
import { focusLabel, focusesOf, withFocus } from './focus';
import { keepUnlessCircle, partLabel, withMask, withPart } from './masks';
import { say, inSentence } from '../words';

/** Something with parameters that hands work on: a layer, its strength, its mask, a part of that, a band, oval or pin, the photo's geometry, its development, the master. */
export interface Target {
  /** The layer that it is or belongs to; none, where it belongs to the whole stack. */
  readonly layer?: Layer | undefined;
  /** The part of the layer's mask, where it is one. */
  readonly partId?: string;
  /** What it is called in labels: `Tone`, `the oval`, `band 1`. */
  readonly name: string;
  readonly params: Params;
  readonly values: AnyValues;
  /** The id of the control of a parameter. */
  readonly idOf: (param: string) => string;
  /** The stack in force, but with some values; without any, as it is. */
  readonly at: (values: AnyValues) => Stack;
  /** Shows values while a control is held. */
  readonly show: (values: AnyValues) => void;
  /** Keeps values as a step, with words for the list of steps. Without these, the words tell the one value that changed, and values that are as they were leave no step. */
  readonly keep: (values: AnyValues, words?: string) => void;
}

/** The value that a parameter of a target has. */
export const valueOf = ({ params, values }: Pick<Target, 'params' | 'values'>, name: string): ParamValue =>
  values[name] ?? (params[name]?.at as ParamValue);

/** The layer of a target with a parameter that only layers and their parts have. */
export function layerOf({ layer }: Target): Layer {
  if (!layer) throw new Error('this parameter belongs to layers');
  return layer;
}

/** Where the values of a target are in a stack, and how the list of steps calls it. */
interface Holder extends Omit<Target, 'at' | 'show' | 'keep'> {
  /** The values that a stack has now, which may be others than those that were drawn; nothing, where the thing is gone. */
  readonly of: (stack: Stack) => AnyValues | undefined;
  readonly put: (stack: Stack, values: AnyValues) => Stack;
  readonly said: (change: string) => string;
  /** Keeps a stack as a step, where there is something to look at first. */
  readonly commit?: (stack: Stack, words: string) => void;
}

const stackNow = (): Stack => inForce(useBench.getState().history);

function targetOf({ of, put, said, commit: keep = commit, ...target }: Holder): Target {
  const at = (values: AnyValues): Stack => (Object.keys(values).length === 0 ? stackNow() : put(stackNow(), values));
  return {
    ...target,
    at,
    show: (values) => show(at(values)),
    keep: (values, words) => {
      const before = of(stackNow());
      if (!before) return;
      const change = words ?? wordsOfChange(target.params, before, values, edgeOf(useBench.getState().photo));
      if (change === undefined) return show(stackNow());
      keep(at(values), said(change));
    },
  };
}

export function layerTarget(layer: KindLayer): Target {
  const { params } = kindOf(layer.kind);
  const ofKind = (it: Layer | undefined): it is KindLayer => it !== undefined && it.kind !== 'group';
  return targetOf({
    layer,
    name: layer.name,
    params,
    values: layer.params,
    idOf: (param) => `${layer.id}-${param}`,
    of: ({ layers }) => {
      const it = find(layers, layer.id);
      return ofKind(it) ? it.params : undefined;
    },
    put: (stack, values) => change(stack, layer.id, (it) => (ofKind(it) ? { ...it, params: { ...it.params, ...values } } : it)),
    said: (words) => `${layer.name}: ${words}`,
  });
}

/** How much of a layer is mixed in. @param place where its control stands: what is held is told by it. */
export const strengthTarget = (layer: Layer, place: 'desk' | 'channel'): Target =>
  targetOf({
    layer,
    name: layer.name,
    params: channelParams,
    values: { strength: layer.strength },
    idOf: (param) => `${place}-${param}-${layer.id}`,
    of: ({ layers }) => pick(find(layers, layer.id), channelParams),
    put: (stack, values) => change(stack, layer.id, (it) => ({ ...it, ...values })),
    said: (words) => `${layer.name}: ${words}`,
  });

/** What is done to the mask of a layer as a whole. */
export const maskTarget = (layer: Layer): Target =>
  targetOf({
    layer,
    name: layer.name,
    params: maskParams,
    values: pick(layer.mask, maskParams) ?? {},
    idOf: (param) => `mask-${param}-${layer.id}`,
    of: ({ layers }) => pick(find(layers, layer.id)?.mask, maskParams),
    put: (stack, values) => withMask(layer.id, (it) => ({ ...it, ...values }), stack),
    said: (words) => say.edits.maskOfNameWords(layer.name, words),
  });

const partIn = ({ layers }: Stack, layer: Layer, { id }: Part): Part | undefined => find(layers, layer.id)?.mask.parts.find((it) => it.id === id);

export function partTarget(layer: Layer, part: Part): Target {
  const { params, label } = partKindOf(part.part);
  return targetOf({
    layer,
    partId: part.id,
    name: say.edits.thePart(inSentence(label)),
    params,
    values: part.params,
    idOf: (param) => `part-${param}-${part.id}`,
    of: (stack) => partIn(stack, layer, part)?.params,
    put: (stack, values) => withPart(layer.id, part.id, (it) => ({ ...it, params: { ...it.params, ...values } }), stack),
    said: (words) => say.edits.maskOfNamePartWords(layer.name, partLabel(part), words),
    commit: keepUnlessCircle,
  });
}

/** How a part joins the others of its mask. */
export const joinTarget = (layer: Layer, part: Part): Target =>
  targetOf({
    layer,
    name: say.edits.thePart(partLabel(part)),
    params: joinParams,
    values: pick(part, joinParams) ?? {},
    idOf: (param) => `join-${param}-${part.id}`,
    of: (stack) => pick(partIn(stack, layer, part), joinParams),
    put: (stack, values) => withPart(layer.id, part.id, (it) => ({ ...it, ...values }), stack),
    said: (words) => say.edits.maskOfNamePartWords(layer.name, partLabel(part), words),
  });

/** @param title what the shape is called among others of its sort: `Band 1`; only its label, unless said. */
export function focusTarget(layer: KindLayer, focus: Focus, title = focusLabel(focus)): Target {
  const { params } = focusShapeOf(focus.shape);
  return targetOf({
    layer,
    name: inSentence(title),
    params,
    values: focus.params,
    idOf: (param) => `focus-${param}-${focus.id}`,
    of: ({ layers }) => focusesOf(find(layers, layer.id))?.all.find(({ id }) => id === focus.id)?.params,
    put: (stack, values) => withFocus(stack, layer.id, focus.id, values),
    said: (words) => `${layer.name}: ${focusLabel(focus)} ${words}`,
  });
}

/** The photo before its layers: what of its geometry is moved by faders. */
export const geometryTarget = ({ geometry }: Stack): Target =>
  targetOf({
    name: say.edits.thePhoto,
    params: geometryParams,
    values: pick(geometry, geometryParams) ?? {},
    idOf: (param) => `geometry-${param}`,
    of: (stack) => pick(stack.geometry, geometryParams),
    put: (stack, values) => ({ ...stack, geometry: { ...stack.geometry, ...values } }),
    said: capital,
  });

/** How a raw file is developed. */
export const developmentTarget = ({ development = asShot }: Stack): Target =>
  targetOf({
    name: say.edits.thePhoto,
    params: developmentParams,
    values: development,
    idOf: (param) => `development-${param}`,
    of: (stack) => stack.development ?? asShot,
    put: (stack, values) => ({ ...stack, development: { ...defaults(developmentParams), ...stack.development, ...values } }),
    said: (words) => say.edits.developmentWords(words),
  });

/** How much of the whole look is mixed in. */
export const masterTarget = ({ master }: Pick<Stack, 'master'>): Target =>
  targetOf({
    name: say.edits.theLook,
    params: masterParams,
    values: { master },
    idOf: (param) => param,
    of: (stack) => pick(stack, masterParams),
    put: (stack, values) => ({ ...stack, ...values }),
    said: capital,
  });

/** Those fields of a thing that have some params. */
const pick = (from: object | undefined, params: Params): AnyValues | undefined =>
  from && Object.fromEntries(Object.keys(params).map((name) => [name, (from as AnyValues)[name] as ParamValue]));

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
