import {
  allLayers,
  change,
  emptyMask,
  find,
  namedBy,
  newPart,
  ownCopy,
  partKindOf,
  wrongLink,
  type AnyValues,
  type Join,
  type Layer,
  type Mask,
  type Part,
  type PartId,
  type Stack,
} from '@bexlen/core';
import { commit, inForce, notify, useBench } from '../state/bench';
import { useWhere } from '../state/byHand';
import { newId } from '../state/ids';

/** What hands do to masks besides moving faders: each turns the stack in force into another and keeps it, with words for the list of steps. */
const now = (): Stack => inForce(useBench.getState().history);

/** A stack with another mask of a layer. */
export const withMask = (layerId: string, to: (mask: Mask) => Mask, stack = now()): Stack =>
  change(stack, layerId, (layer) => ({ ...layer, mask: to(layer.mask) }));
/** A stack with another part of such a mask. */
export const withPart = (layerId: string, partId: string, to: (part: Part) => Part, stack = now()): Stack =>
  withMask(layerId, (mask) => ({ ...mask, parts: mask.parts.map((part) => (part.id === partId ? to(part) : part)) }), stack);

export const partLabel = ({ part }: Part): string => partKindOf(part).label.toLowerCase();

/** Keeps a stack unless its masks would go round in a circle, which is said instead. */
export function keepUnlessCircle(stack: Stack, words: string): boolean {
  const wrong = wrongLink(stack.layers);
  if (wrong) notify(`${wrong} Choose another layer.`);
  else commit(stack, words);
  return wrong === undefined;
}

export const mask = {
  keep: (layer: Layer, values: Partial<Mask>, words: string): void =>
    commit(
      withMask(layer.id, (it) => ({ ...it, ...values })),
      `Mask of ${layer.name}: ${words}`,
    ),
  masked: (layer: Layer, masked: boolean): void =>
    commit(
      change(now(), layer.id, (it) => ({ ...it, masked })),
      `${layer.name} reads ${masked ? 'only what its mask lets through' : 'everything'}`,
    ),
  reset: (layer: Layer): void => {
    useWhere.setState({ part: undefined });
    commit(
      withMask(layer.id, () => emptyMask),
      `Mask of ${layer.name} taken off`,
    );
  },
};

export const part = {
  add: (layer: Layer, kind: PartId, join: Join = 'add', params: AnyValues = {}): void => {
    const made = newPart(kind, newId(), join);
    const whole = { ...made, params: { ...made.params, ...params } };
    const kept = keepUnlessCircle(
      withMask(layer.id, (it) => ({ ...it, parts: [...it.parts, whole] })),
      `Mask of ${layer.name}: ${partLabel(made)} added`,
    );
    if (kept) useWhere.setState({ part: made.id });
  },
  remove: (layer: Layer, it: Part): void => {
    useWhere.setState({ part: undefined });
    commit(
      withMask(layer.id, (old) => ({ ...old, parts: old.parts.filter(({ id }) => id !== it.id) })),
      `Mask of ${layer.name}: ${partLabel(it)} removed`,
    );
  },
  set: (layer: Layer, it: Part, values: Partial<Omit<Part, 'params' | 'part' | 'id'>>, words: string): void =>
    commit(
      withPart(layer.id, it.id, (old) => ({ ...old, ...values })),
      `Mask of ${layer.name}: ${partLabel(it)} ${words}`,
    ),
};

/** A part that is the same as another layer's mask becomes a copy, and is opened. */
export function goOwnWay(layer: Layer, it: Part): void {
  const to = ownCopy(now(), layer.id, it.id, newId);
  if (!to) return notify('This mask cannot be copied among other parts: it is made of several, or softened. Copy it onto the layer instead.');
  commit(to, `Mask of ${layer.name}: a copy of its own`);
  const at = layer.mask.parts.findIndex(({ id }) => id === it.id);
  useWhere.setState({ part: find(to.layers, layer.id)?.mask.parts[at]?.id });
}

/** A mask taken along to be put on another layer. */
let taken: Mask | undefined;
export const takeMask = (layer: Layer): void => {
  taken = layer.mask;
  notify(`The mask of “${layer.name}” is copied. Put it on another layer.`);
};
export const hasTaken = (): boolean => taken !== undefined;
export function putMask(layer: Layer): void {
  if (!taken) return;
  const copy = { ...taken, parts: taken.parts.map((it) => ({ ...it, id: newId() })) };
  useWhere.setState({ part: undefined });
  keepUnlessCircle(
    withMask(layer.id, () => copy),
    `Mask of ${layer.name}: a copy`,
  );
}

/** Layers whose masks a layer's may be the same as: all others that have one and are not the same as its own already. */
export function linkable(stack: Stack, layer: Layer): Layer[] {
  const all = allLayers(stack.layers);
  const linksOf = (id: string): string[] => {
    const found = find(stack.layers, id);
    return found ? namedBy(found, 'layer') : [];
  };
  const leadsHere = (id: string, seen: readonly string[] = []): boolean =>
    id === layer.id || (!seen.includes(id) && linksOf(id).some((next) => leadsHere(next, [...seen, id])));
  return all.filter(({ id, mask: own }) => id !== layer.id && own.parts.length > 0 && !leadsHere(id));
}
