import { kindOf } from '../kinds';
import { partKindOf } from '../masks/parts';
import { defaults, refersTo, type AnyValues, type Params, type Referent } from '../params';
import { allLayers, type Layer } from './schema';

/** What a layer names that is kept elsewhere. */
export interface Reference {
  readonly to: Referent;
  readonly name: string;
}

const paramsOf = (layer: Layer): Params => (layer.kind === 'group' ? {} : kindOf(layer.kind).params);
const valuesOf = (layer: Layer): AnyValues => (layer.kind === 'group' ? {} : layer.params);

/** References among the values of some parameters. Where nothing was chosen yet, there is none. */
function among(params: Params, values: AnyValues): Reference[] {
  return Object.entries(params).flatMap(([id, param]) => {
    const to = refersTo(param);
    const name = values[id];
    return to && typeof name === 'string' && name !== '' ? [{ to, name }] : [];
  });
}

/** All that a layer names itself, by its mask, its kind or both; not what layers in it name. */
export const references = (layer: Layer, by: 'mask' | 'kind' | 'both' = 'both'): Reference[] => [
  ...(by === 'kind' ? [] : layer.mask.parts.flatMap(({ part, params }) => among(partKindOf(part).params, params))),
  ...(by === 'mask' ? [] : among(paramsOf(layer), valuesOf(layer))),
];

/** What a layer itself names of one sort. */
export const namedBy = (layer: Layer, sort: Referent): string[] => references(layer).flatMap(({ to, name }) => (to === sort ? [name] : []));

/** What layers and those in them name of one sort, each once. */
export const namedIn = (layers: readonly Layer[], sort: Referent): string[] => [
  ...new Set(allLayers(layers).flatMap((layer) => namedBy(layer, sort))),
];

/** What layers and those in them name of one sort, each with the layer that names it first. */
export function namersOf(layers: readonly Layer[], sort: Referent): Map<string, Layer> {
  const found = new Map<string, Layer>();
  for (const layer of allLayers(layers)) for (const name of namedBy(layer, sort)) if (!found.has(name)) found.set(name, layer);
  return found;
}

/** Whether a layer's kind can name something of a sort, chosen or not. */
export const asksFor = (layer: Layer, sort: Referent): boolean => askedBy(layer, sort).length > 0;

/** What a layer's kind names of one sort; the empty name, where nobody has chosen yet: something may have been provided for that, too. */
export const askedBy = (layer: Layer, sort: Referent): string[] =>
  Object.entries(paramsOf(layer)).flatMap(([id, param]) => (refersTo(param) === sort ? [String(valuesOf(layer)[id] ?? '')] : []));

/** Whether a layer's kind asks for something of a sort that nobody has chosen yet. */
export const lacks = (layer: Layer, sort: Referent): boolean => askedBy(layer, sort).includes('');

/** Values with other names in the place of theirs. */
function renamedValues(params: Params, values: AnyValues, rename: (reference: Reference) => string): AnyValues {
  const to = Object.entries(params).flatMap(([id, param]) => {
    const [found] = among({ [id]: param }, values);
    return found ? [[id, rename(found)] as const] : [];
  });
  return to.length > 0 ? { ...values, ...Object.fromEntries(to) } : values;
}

/** A layer, with those in it, whose references have other names. */
export function renamed(layer: Layer, rename: (reference: Reference) => string): Layer {
  const parts = layer.mask.parts.map((part) => ({ ...part, params: renamedValues(partKindOf(part.part).params, part.params, rename) }));
  return {
    ...layer,
    mask: { ...layer.mask, parts },
    ...(layer.kind !== 'group' && { params: renamedValues(paramsOf(layer), layer.params, rename) }),
    ...(layer.layers && { layers: layer.layers.map((inner) => renamed(inner, rename)) }),
  } as Layer;
}

/** Values without those that name something of some sorts: these are as they were before anything was chosen. */
export function withoutNames(params: Params, values: AnyValues, sorts: readonly Referent[]): AnyValues {
  const usual = defaults(params) as AnyValues;
  const named = Object.keys(params).filter((id) => among({ [id]: params[id] as Params[string] }, values).some(({ to }) => sorts.includes(to)));
  return { ...values, ...Object.fromEntries(named.map((id) => [id, usual[id] as AnyValues[string]])) };
}
