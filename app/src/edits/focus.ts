import {
  change,
  find,
  focusShapeOf,
  kindOf,
  MOST_FOCUSES,
  newFocus,
  type AnyValues,
  type Focus,
  type FocusShapeId,
  type KindLayer,
  type Layer,
  type Stack,
} from '@bexlen/core';
import { commit, inForce, notify, useBench } from '../state/bench';
import { useWhere } from '../state/byHand';
import { newId } from '../state/ids';
import { say, inSentence } from '../words';

/** Bands, ovals and pins of a layer, and the param that holds them; nothing for other kinds. */
export function focusesOf(
  layer: Layer | undefined,
): { readonly layer: KindLayer; readonly name: string; readonly all: readonly Focus[] } | undefined {
  if (!layer || layer.kind === 'group') return undefined;
  const [name] = Object.entries(kindOf(layer.kind).params).flatMap(([id, { type }]) => (type === 'focus' ? [id] : []));
  return name === undefined ? undefined : { layer, name, all: layer.params[name] as readonly Focus[] };
}

/** The one that is worked on: the one that was chosen, or the first band or oval. */
export const chosenOf = (all: readonly Focus[], id: string | undefined): Focus | undefined =>
  all.find((it) => it.id === id) ?? all.find(({ shape }) => shape !== 'pin') ?? all[0];

export const focusLabel = ({ shape }: Focus): string => inSentence(focusShapeOf(shape).label);

/** A stack in which the bands, ovals and pins of a layer are others. */
const withAll = (stack: Stack, layerId: string, to: (all: readonly Focus[]) => readonly Focus[]): Stack =>
  change(stack, layerId, (layer) => {
    const at = focusesOf(layer);
    return at ? { ...at.layer, params: { ...at.layer.params, [at.name]: to(at.all) } } : layer;
  });

/** A stack in which one of them has some other values. */
export const withFocus = (stack: Stack, layerId: string, id: string, values: AnyValues): Stack =>
  withAll(stack, layerId, (all) => all.map((it) => (it.id === id ? { ...it, params: { ...it.params, ...(values as Focus['params']) } } : it)));

const now = (): Stack => inForce(useBench.getState().history);

/** What hands do to bands, ovals and pins besides moving them. */
export const focus = {
  add: (layerId: string, shape: FocusShapeId, given: Focus['params'] = {}): void => {
    const at = focusesOf(find(now().layers, layerId));
    if (!at) return;
    if (at.all.length >= MOST_FOCUSES) return notify(say.edits.thereAreAtMostWhatBands(MOST_FOCUSES));
    const made = newFocus(shape, newId(), given);
    commit(
      withAll(now(), layerId, (all) => [...all, made]),
      say.edits.nameFocusAdded(at.layer.name, focusLabel(made)),
    );
    useWhere.setState({ focus: made.id });
  },
  remove: (layerId: string, id: string): void => {
    const at = focusesOf(find(now().layers, layerId));
    const it = at?.all.find((one) => one.id === id);
    if (!at || !it) return;
    useWhere.setState({ focus: undefined });
    commit(
      withAll(now(), layerId, (all) => all.filter((one) => one.id !== id)),
      say.edits.nameFocusRemoved(at.layer.name, focusLabel(it)),
    );
  },
};
