import { kindOf } from '../kinds';
import { emptyMask } from '../masks/mask';
import { partKindOf } from '../masks/parts';
import { plainChannel, type Layer, type Stack } from './schema';

type Fields = Readonly<Record<string, unknown>>;

/** Fields that are not what they would be without being said. */
const said = (fields: object, otherwise: Fields): Record<string, unknown> =>
  Object.fromEntries(Object.entries(fields).filter(([name, value]) => JSON.stringify(value) !== JSON.stringify(otherwise[name])));
const defaultsOf = (params: Readonly<Record<string, { readonly at: unknown }>>): Fields =>
  Object.fromEntries(Object.entries(params).map(([name, { at }]) => [name, at]));

const PART = { on: true, join: 'add', inverted: false, amount: 1, keep: 0, reads: 'photo' } as const;

/** A stack with nothing said that has its default: `readStack` makes the same of it. It is what goes over the wire with every step. */
export function compact(stack: Stack): unknown {
  return { ...stack, layers: stack.layers.map(compactLayer) };
}

function compactLayer(layer: Layer): unknown {
  const { mask, ...rest } = layer;
  const parts = mask.parts.map(({ params, ...part }) => ({ ...said(part, PART), params: said(params, defaultsOf(partKindOf(part.part).params)) }));
  const own = said({ ...mask, parts }, emptyMask as unknown as Fields);
  const whole = { ...said(rest, plainChannel as unknown as Fields), ...(Object.keys(own).length > 0 && { mask: own }) };
  if (layer.kind === 'group') return { ...whole, layers: layer.layers.map(compactLayer) };
  const params = said(layer.params, defaultsOf(kindOf(layer.kind).params));
  return { ...whole, params, ...(layer.layers && { layers: layer.layers.map(compactLayer) }) };
}
