import equal from 'fast-deep-equal';
import { kindOf } from '../kinds';
import { emptyMask, plainPart } from '../masks/mask';
import { partKindOf } from '../masks/parts';
import { defaults } from '../params';
import { plainChannel, type Layer, type Stack } from './schema';

/** Fields that are not what they are unless said. */
const unlike = (fields: object, usual: object): Record<string, unknown> =>
  Object.fromEntries(Object.entries(fields).filter(([name, value]) => !equal(value, usual[name as never])));

/** A field, unless it would hold nothing. */
export const some = (name: string, fields: object): object => (Object.keys(fields).length > 0 ? { [name]: fields } : {});

/** A layer, with those in it, without what has its default: the schema of layers makes the same of it. @param naming the fields that it is named by. */
export function compactLayer(layer: Layer, naming: (layer: Layer) => object): object {
  const { id: _id, name: _name, kind, mask, layers, ...rest } = layer;
  const { params = {}, ...channel } = rest as typeof rest & { readonly params?: object };
  const parts = mask.parts.map(({ id, part, params: values, ...own }) => ({
    id,
    part,
    ...unlike(own, plainPart),
    ...some('params', unlike(values, defaults(partKindOf(part).params))),
  }));
  return {
    kind,
    ...naming(layer),
    ...unlike(channel, plainChannel),
    ...some('mask', unlike({ ...mask, parts }, emptyMask)),
    ...(kind !== 'group' && some('params', unlike(params, defaults(kindOf(kind).params)))),
    ...(layers && (kind === 'group' || layers.length > 0) && { layers: layers.map((inner) => compactLayer(inner, naming)) }),
  };
}

/** A stack with nothing said that has its default: `readStack` makes the same of it. It is what goes over the wire with every step. */
export const compact = (stack: Stack): unknown => ({
  ...stack,
  layers: stack.layers.map((layer) => compactLayer(layer, ({ id, name }) => ({ id, name }))),
});
