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
import { say, inSentence } from '../words';

/** What hands do to masks besides moving faders: each turns the stack in force into another and keeps it, with words for the list of steps. */
const now = (): Stack => inForce(useBench.getState().history);

/** A stack with another mask of a layer. */
export const withMask = (layerId: string, to: (mask: Mask) => Mask, stack = now()): Stack =>
  change(stack, layerId, (layer) => ({ ...layer, mask: to(layer.mask) }));
/** A stack with another part of such a mask. */
export const withPart = (layerId: string, partId: string, to: (part: Part) => Part, stack = now()): Stack =>
  withMask(layerId, (mask) => ({ ...mask, parts: mask.parts.map((part) => (part.id === partId ? to(part) : part)) }), stack);

export const partLabel = ({ part }: Part): string => inSentence(partKindOf(part).label);

/** Keeps a stack unless its masks would go round in a circle, which is said instead. */
export function keepUnlessCircle(stack: Stack, words: string): boolean {
  const wrong = wrongLink(stack.layers);
  if (wrong) notify(say.edits.wrongChooseAnotherLayer(wrong));
  else commit(stack, words);
  return wrong === undefined;
}

export const mask = {
  keep: (layer: Layer, values: Partial<Mask>, words: string): void =>
    commit(
      withMask(layer.id, (it) => ({ ...it, ...values })),
      say.edits.maskOfNameWords(layer.name, words),
    ),
  masked: (layer: Layer, masked: boolean): void =>
    commit(
      change(now(), layer.id, (it) => ({ ...it, masked })),
      say.edits.nameReadsWhat(layer.name, masked ? say.edits.onlyWhatItsMaskLetsThrough : say.edits.everything),
    ),
  reset: (layer: Layer): void => {
    useWhere.setState({ part: undefined });
    commit(
      withMask(layer.id, () => emptyMask),
      say.edits.maskOfNameTakenOff(layer.name),
    );
  },
};

export const part = {
  add: (layer: Layer, kind: PartId, join: Join = 'add', params: AnyValues = {}): void => {
    const made = newPart(kind, newId(), join);
    const whole = { ...made, params: { ...made.params, ...params } };
    const kept = keepUnlessCircle(
      withMask(layer.id, (it) => ({ ...it, parts: [...it.parts, whole] })),
      say.edits.maskOfNamePartAdded(layer.name, partLabel(made)),
    );
    if (kept) useWhere.setState({ part: made.id });
  },
  remove: (layer: Layer, it: Part): void => {
    useWhere.setState({ part: undefined });
    commit(
      withMask(layer.id, (old) => ({ ...old, parts: old.parts.filter(({ id }) => id !== it.id) })),
      say.edits.maskOfNamePartRemoved(layer.name, partLabel(it)),
    );
  },
  set: (layer: Layer, it: Part, values: Partial<Omit<Part, 'params' | 'part' | 'id'>>, words: string): void =>
    commit(
      withPart(layer.id, it.id, (old) => ({ ...old, ...values })),
      say.edits.maskOfNamePartWords(layer.name, partLabel(it), words),
    ),
};

/** A part that is the same as another layer's mask becomes a copy, and is opened. */
export function goOwnWay(layer: Layer, it: Part): void {
  const to = ownCopy(now(), layer.id, it.id, newId);
  if (!to) return notify(say.edits.thisMaskCannotBeCopiedAmong);
  commit(to, say.edits.maskOfNameACopyOf(layer.name));
  const at = layer.mask.parts.findIndex(({ id }) => id === it.id);
  useWhere.setState({ part: find(to.layers, layer.id)?.mask.parts[at]?.id });
}

/** A mask taken along to be put on another layer. */
let taken: Mask | undefined;
export const takeMask = (layer: Layer): void => {
  taken = layer.mask;
  notify(say.edits.theMaskOfNameIsCopied(layer.name));
};
export const hasTaken = (): boolean => taken !== undefined;
export function putMask(layer: Layer): void {
  if (!taken) return;
  const copy = { ...taken, parts: taken.parts.map((it) => ({ ...it, id: newId() })) };
  useWhere.setState({ part: undefined });
  keepUnlessCircle(
    withMask(layer.id, () => copy),
    say.edits.maskOfNameACopy(layer.name),
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
