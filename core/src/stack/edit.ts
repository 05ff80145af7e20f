import { kindOf, revisionOf, type KindId } from '../kinds';
import { defaults, type ParamValue } from '../params';
import type { Bytes } from '../measure/bytes';
import { emptyMask, type Mask, type Part } from '../masks/mask';
import { namedBy } from './references';
import { allLayers, MAX_LAYERS, MAX_NESTING, plainChannel, type Group, type KindLayer, type Layer, type Stack } from './schema';

/** Where a layer goes: beside another, into a group as its last, or to the end of the stack. */
export type Place = { readonly before: string } | { readonly after: string } | { readonly into: string } | 'end';

type Layers = readonly Layer[];
/** A layer that others stand in. */
type Holder = Layer & { readonly layers: Layers };
export const holdsLayers = (layer: Layer): layer is Holder => layer.layers !== undefined;

/** Layer by id, wherever it stands. */
export function find(layers: Layers, id: string): Layer | undefined {
  for (const layer of layers) {
    if (layer.id === id) return layer;
    const inside = find(layer.layers ?? [], id);
    if (inside) return inside;
  }
  return undefined;
}

/** The layer that a layer stands in; undefined at the top. */
export function parentOf(layers: Layers, id: string): Holder | undefined {
  for (const layer of layers) {
    if (!holdsLayers(layer)) continue;
    if (layer.layers.some((child) => child.id === id)) return layer;
    const inside = parentOf(layer.layers, id);
    if (inside) return inside;
  }
  return undefined;
}

export const countLayers = (layers: Layers): number => layers.reduce((sum, layer) => sum + 1 + countLayers(layer.layers ?? []), 0);

const depthOf = (layer: Layer): number => (holdsLayers(layer) ? 1 + Math.max(0, ...layer.layers.map(depthOf)) : 0);

/** Applies a change to one layer; everything else stays the same object. */
export function change(stack: Stack, id: string, to: (layer: Layer) => Layer): Stack {
  const walk = (layers: Layers): Layers =>
    mapSame(layers, (layer) => (layer.id === id ? to(layer) : holdsLayers(layer) ? withLayers(layer, walk(layer.layers)) : layer));
  return withStack(stack, walk(stack.layers));
}

/** Takes a layer out, with all that is in it. Groups left empty go too. */
export const remove = (stack: Stack, id: string): Stack => withoutLost(takenOut(stack, id), stack);

function takenOut(stack: Stack, id: string): Stack {
  const walk = (layers: Layers): Layers =>
    layers.flatMap((layer): Layers => {
      if (layer.id === id) return [];
      if (!holdsLayers(layer)) return [layer];
      const inside = walk(layer.layers);
      return inside.length === 0 && layer.layers.length > 0 && layer.kind === 'group' ? [] : [withLayers(layer, inside)];
    });
  return withStack(stack, walk(stack.layers));
}

/**
 * A part that is the same as another layer's mask becomes a copy of it, which goes its own way. Nothing, where that cannot be said by parts: where a mask of several
 * parts, or a softened one, would stand among others.
 */
export function ownCopy(stack: Stack, layerId: string, partId: string, newId: () => string): Stack | undefined {
  const layer = find(stack.layers, layerId);
  const part = layer?.mask.parts.find(({ id }) => id === partId);
  const target = part && find(stack.layers, String(part.params['layer']))?.mask;
  if (!layer || !part || !target) return undefined;
  const copies = target.parts.map((it) => ({ ...it, id: newId() }));
  const [only] = copies;
  const plain = target.on && target.soften === 0 && target.density === 1;
  if (only && copies.length === 1 && plain && only.on && (only.amount === 1 || part.amount === 1)) {
    const turned = [only.inverted, target.inverted, only.join !== 'add' && only.join !== 'within', part.inverted].filter(Boolean).length % 2 === 1;
    const own = { ...only, join: part.join, inverted: turned, amount: only.amount * part.amount };
    return change(stack, layerId, (it) => ({ ...it, mask: { ...it.mask, parts: it.mask.parts.map((each) => (each.id === partId ? own : each)) } }));
  }
  const alone =
    layer.mask.parts.length === 1 && part.on && part.amount === 1 && part.keep === 0 && layer.mask.soften === 0 && layer.mask.density === 1;
  if (!alone) return undefined;
  const turned = [target.inverted, part.inverted, part.join === 'take', layer.mask.inverted].filter(Boolean).length % 2 === 1;
  return change(stack, layerId, (it) => ({ ...it, mask: { ...target, parts: copies, inverted: turned } }));
}

/** Masks that were the same as that of a layer which is gone: what was only that becomes its copy, a part beside others goes with it. */
function withoutLost(stack: Stack, before: Stack): Stack {
  const known = new Map(allLayers(before.layers).map((layer) => [layer.id, layer]));
  const there = new Set(allLayers(stack.layers).map(({ id }) => id));
  const maskOf = (id: string): Mask => {
    const { parts, ...own } = known.get(id)?.mask ?? emptyMask;
    const lost = (part: Part): boolean =>
      part.part === 'same-as' && known.has(String(part.params['layer'])) && !there.has(String(part.params['layer']));
    if (!parts.some(lost)) return { ...own, parts };
    const [only] = parts;
    const plain = only && parts.length === 1 && only.on && only.join === 'add' && !only.inverted && only.amount === 1 && only.keep === 0;
    const target = plain ? maskOf(String(only.params['layer'])) : undefined;
    if (target && own.on && own.soften === 0 && own.density === 1) return { ...target, inverted: target.inverted !== own.inverted };
    return { ...own, parts: parts.filter((part) => !lost(part)) };
  };
  const lost = allLayers(stack.layers).filter((layer) => namedBy(layer, 'layer').some((id) => !there.has(id)));
  return lost.reduce((all, { id }) => change(all, id, (layer) => ({ ...layer, mask: maskOf(id) })), stack);
}

/** Puts a layer in. */
export function insert(stack: Stack, layer: Layer, place: Place): Stack {
  if (place === 'end') return { ...stack, layers: [...stack.layers, layer] };
  if ('into' in place) return change(stack, place.into, (group) => (holdsLayers(group) ? { ...group, layers: [...group.layers, layer] } : group));
  const beside = 'before' in place ? place.before : place.after;
  const walk = (layers: Layers): Layers =>
    layers.flatMap((other): Layer[] => {
      if (other.id === beside) return 'before' in place ? [layer, other] : [other, layer];
      return [holdsLayers(other) ? withLayers(other, walk(other.layers)) : other];
    });
  return withStack(stack, walk(stack.layers));
}

/** Moves a layer. Moving it into or beside itself leaves the stack as it is, and so does a nesting that would be too deep. */
export function move(stack: Stack, id: string, place: Place): Stack {
  const layer = find(stack.layers, id);
  const target = place === 'end' ? undefined : Object.values(place)[0];
  if (!layer || (target !== undefined && (target === id || find(layer.layers ?? [], target)))) return stack;
  if (target !== undefined && parentOf(stack.layers, id)?.layers.length === 1 && parentOf(stack.layers, id)?.id === target) return stack;
  const moved = insert(takenOut(stack, id), layer, place);
  return fits(moved) && find(moved.layers, id) ? moved : stack;
}

/** Makes a group of two layers, where the second one stands: a row dropped on another. */
export function groupWith(stack: Stack, id: string, onto: string, groupId: string): Stack {
  const layer = find(stack.layers, id);
  const target = find(stack.layers, onto);
  if (!layer || !target || id === onto || find(layer.layers ?? [], onto)) return stack;
  if (holdsLayers(target)) return move(stack, id, { into: onto });
  const order = indexOf(stack.layers, id) < indexOf(stack.layers, onto) ? [layer, target] : [target, layer];
  const grouped = change(takenOut(stack, id), onto, () => newGroup(groupId, order));
  return fits(grouped) && find(grouped.layers, groupId) ? grouped : stack;
}

/** Takes a group apart; its layers stay where they stood. */
export function ungroup(stack: Stack, id: string): Stack {
  const walk = (layers: Layers): Layers =>
    layers.flatMap((layer): Layers => {
      if (!holdsLayers(layer)) return [layer];
      return layer.id === id && layer.kind === 'group' ? layer.layers : [withLayers(layer, walk(layer.layers))];
    });
  return withStack(stack, walk(stack.layers));
}

/** The stack as it is heard solo: only the given layers, with the groups they stand in and all that stands in them. The others are switched off: their masks may be used. */
export function soloed(stack: Stack, ids: ReadonlySet<string>): Stack {
  if (ids.size === 0) return stack;
  const walk = (layers: Layers): Layers =>
    mapSame(layers, (layer) => {
      if (ids.has(layer.id)) return layer;
      if (holdsLayers(layer) && allLayers(layer.layers).some(({ id }) => ids.has(id))) return withLayers(layer, walk(layer.layers));
      return layer.on ? { ...layer, on: false } : layer;
    });
  return withStack(stack, walk(stack.layers));
}

/** A layer of a kind at its defaults; where the kind begins with values found from the picture, with those, if it is seen what the layer will read. */
export function newLayer(kind: KindId, id: string, seen?: Bytes): KindLayer {
  const definition = kindOf(kind);
  const { label, params, auto, autoFor, holds } = definition;
  const revision = revisionOf(definition);
  const found = seen && autoFor && auto ? (auto(seen) as Record<string, ParamValue>) : {};
  return {
    ...plainChannel,
    id,
    kind,
    name: label,
    params: { ...defaults(params), ...found },
    ...(revision > 1 && { revision }),
    ...(holds && { layers: [] }),
  };
}

export const newGroup = (id: string, layers: readonly Layer[]): Group => ({ ...plainChannel, id, kind: 'group', name: 'Group', layers });

/** Whether a stack keeps within the limits of a version. */
export const fits = (stack: Stack): boolean => countLayers(stack.layers) <= MAX_LAYERS && Math.max(0, ...stack.layers.map(depthOf)) <= MAX_NESTING;

/** Layers in the order of the desk, with how deep they stand. */
export function rows(layers: Layers, depth = 0): { readonly layer: Layer; readonly depth: number }[] {
  return layers.flatMap((layer) => [{ layer, depth }, ...rows(layer.layers ?? [], depth + 1)]);
}

const indexOf = (layers: Layers, id: string): number => rows(layers).findIndex(({ layer }) => layer.id === id);

const withStack = (stack: Stack, layers: Layers): Stack => (same(layers, stack.layers) ? stack : { ...stack, layers });
const withLayers = (group: Holder, layers: Layers): Layer => (same(layers, group.layers) ? group : { ...group, layers });
const same = (a: Layers, b: Layers): boolean => a.length === b.length && a.every((layer, i) => layer === b[i]);
const mapSame = (layers: Layers, f: (layer: Layer) => Layer): Layers => {
  const out = layers.map(f);
  return same(out, layers) ? layers : out;
};

/** The stack up to a layer: what lies beneath it, in its own group and before. All else is switched off: its masks may be used. */
export function beneath(stack: Stack, id: string): Stack {
  const upTo = (layers: readonly Layer[]): readonly Layer[] | undefined => {
    for (const [i, layer] of layers.entries()) {
      const rest = layers.slice(i + 1).map(switchedOff);
      if (layer.id === id) return [...layers.slice(0, i), switchedOff(layer), ...rest];
      const inside = holdsLayers(layer) ? upTo(layer.layers) : undefined;
      // What stands in a picture reads the picture: this is shown alone.
      if (inside && holdsLayers(layer) && layer.kind !== 'group') return [{ ...layer, layers: inside }, ...rest];
      if (inside) return [...layers.slice(0, i), ...inside, ...rest];
    }
    return undefined;
  };
  return { ...stack, master: 1, layers: upTo(stack.layers) ?? stack.layers };
}

const switchedOff = (layer: Layer): Layer => (layer.on ? { ...layer, on: false } : layer);

/** The steps from the photo to the whole look: the stack cut after each of its outermost layers that is on, with their names. */
export function buildUp(stack: Stack): { readonly name: string; readonly stack: Stack }[] {
  const shown = stack.layers.filter(({ on, strength }) => on && strength > 0);
  return [
    { name: 'Photo', stack: { ...stack, layers: [] } },
    ...shown.map(({ name, id }) => {
      const last = stack.layers.findIndex((layer) => layer.id === id);
      return { name, stack: { ...stack, layers: stack.layers.map((layer, i) => (i > last ? switchedOff(layer) : layer)) } };
    }),
  ];
}
