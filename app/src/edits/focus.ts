import { find, focusShapeOf, kindOf, MOST_FOCUSES, newFocus, type Focus, type FocusShapeId, type KindLayer, type Layer } from '@bexlen/core';
import { edgeOf, wordsOfChange } from '../state/words';
import { values } from './layers';
import { inForce, notify, useBench } from '../state/bench';
import { useWhere } from '../state/byHand';
import { newId } from '../state/ids';

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

type Values = Readonly<Record<string, number | string>>;
const labelOf = ({ shape }: Focus): string => focusShapeOf(shape).label.toLowerCase();
const now = (layerId: string): ReturnType<typeof focusesOf> => focusesOf(find(inForce(useBench.getState().history).layers, layerId));

const changed = (all: readonly Focus[], id: string, values: Values): Focus[] =>
  all.map((it) => (it.id === id ? { ...it, params: { ...it.params, ...values } } : it));

/** What hands do to bands, ovals and pins: shown, or kept as a step. */
export const focus = {
  show: (layerId: string, id: string, to: Values): void => {
    const at = now(layerId);
    if (at) values.show(at.layer, { [at.name]: changed(at.all, id, to) });
  },
  /** Keeps values as a step. Without words these tell the one that changed, and values that are as they were leave no step. */
  keep: (layerId: string, id: string, to: Values, label?: string): void => {
    const at = now(layerId);
    const it = at?.all.find((one) => one.id === id);
    if (!at || !it) return;
    const said = label ?? wordsOfChange(focusShapeOf(it.shape).params, it.params, to, edgeOf(useBench.getState().photo));
    if (said === undefined) return values.show(at.layer, {});
    values.keep(at.layer, { [at.name]: changed(at.all, id, to) }, `${labelOf(it)} ${said}`);
  },
  add: (layerId: string, shape: FocusShapeId, given: Values = {}): void => {
    const at = now(layerId);
    if (!at) return;
    if (at.all.length >= MOST_FOCUSES) return notify(`There are at most ${MOST_FOCUSES} bands, ovals and pins in a layer.`);
    const made = newFocus(shape, newId(), given);
    values.keep(at.layer, { [at.name]: [...at.all, made] }, `${labelOf(made)} added`);
    useWhere.setState({ focus: made.id });
  },
  remove: (layerId: string, id: string): void => {
    const at = now(layerId);
    const it = at?.all.find((one) => one.id === id);
    if (!at || !it) return;
    useWhere.setState({ focus: undefined });
    values.keep(at.layer, { [at.name]: at.all.filter((one) => one.id !== id) }, `${labelOf(it)} removed`);
  },
};
