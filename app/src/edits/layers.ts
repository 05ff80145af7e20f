import equal from 'fast-deep-equal';
import {
  change,
  defaults,
  figure,
  find,
  groupWith,
  insert,
  isPlaced,
  kindOf,
  lacks,
  move,
  newLayer,
  parentOf,
  remove,
  revisionOf,
  rows,
  ungroup,
  type AnyValues,
  type Curve,
  type GateSide,
  type Geometry,
  type KindId,
  type KindLayer,
  type Layer,
  type ModeId,
  type ParamValue,
  type Place,
  type Stack,
} from '@bexlen/core';
import { usePreview } from '../engine/shown';
import { commit, inForce, notify, openChannel, show, useBench } from '../state/bench';
import { useWhere, type Ahead } from '../state/byHand';
import { edgeOf, words } from '../state/words';
import { newId } from '../state/ids';
import { say, inSentence } from '../words';

/** What hands do at the desk besides moving faders: each turns the stack in force into another, shows it or keeps it, with words for the list of steps. */
const now = (): Stack => inForce(useBench.getState().history);
const edge = (): number => edgeOf(useBench.getState().photo);

const set = <K extends keyof Layer>(id: string, key: K, value: Layer[K]): Stack => change(now(), id, (layer) => ({ ...layer, [key]: value }));

/** Lets a layer work as its kind does now. */
export function takeNewer(layer: KindLayer): void {
  const revision = revisionOf(kindOf(layer.kind));
  commit(
    change(now(), layer.id, (it) => (it.kind === 'group' ? it : { ...it, revision })),
    words.newer(layer),
  );
}

const withParams = (layer: Layer, values: AnyValues): Stack =>
  change(now(), layer.id, (it) => (it.kind === 'group' ? it : { ...it, params: { ...it.params, ...values } }));

/** While a picture is placed what lies beneath is seen through it. */
const PLACING = 0.5;
export const placing = (layer: Layer, values: AnyValues): void =>
  show(
    Object.keys(values).length === 0
      ? now()
      : change(withParams(layer, values), layer.id, (it) => ({ ...it, strength: Math.min(it.strength, PLACING) })),
  );

/** Values of some params in words: `brightness 20 %, contrast 10 %`. */
export const figures = (layer: KindLayer, values: Readonly<Record<string, number>>): string =>
  Object.entries(values)
    .map(([name, value]) => {
      const definition = kindOf(layer.kind).params[name];
      return definition?.type === 'number' ? `${inSentence(definition.label)} ${figure(definition, value, edge())}` : name;
    })
    .join(', ');

/** Regions of the histogram: params of the Tone layer that ends the stack, which is put there by the first drag. */
const lastTone = (): KindLayer | undefined => {
  const last = now().layers.at(-1);
  return last?.kind === 'tone' ? last : undefined;
};
let newTone: KindLayer | undefined;
export const region = {
  now: (name: string): number => {
    newTone = undefined;
    return Number(lastTone()?.params[name] ?? 0);
  },
  with: (name: string, value: number): { stack: Stack; layer: KindLayer } => {
    const layer = lastTone() ?? (newTone ??= newLayer('tone', newId()) as KindLayer);
    const stack = lastTone() ? now() : insert(now(), layer, 'end');
    return { stack: change(stack, layer.id, (it) => (it.kind === 'group' ? it : { ...it, params: { ...it.params, [name]: value } })), layer };
  },
  show: (name: string, value: number): void => show(region.with(name, value).stack),
  keep: (name: string, value: number): void => {
    const { stack, layer } = region.with(name, value);
    commit(stack, words.variant(layer, `${name} ${Math.round(value * 100)} %`));
  },
  putBack: (): void => show(now()),
};

/** What comes before the first layer. */
export const geometry = {
  show: (change: Partial<Geometry>): void => show({ ...now(), geometry: { ...now().geometry, ...change } }),
  keep: (change: Partial<Geometry>, label: string): void => {
    const to = { ...now().geometry, ...change };
    if (equal(to, now().geometry)) return show(now());
    commit({ ...now(), geometry: to }, label);
  },
  /** What a hand does to the geometry as it is when the hand comes, not as it was last drawn. */
  turn: (way: (before: Geometry) => Geometry, label: string): void => geometry.keep(way(now().geometry), label),
  putBack: (): void => show(now()),
};

/** A named starting point: all params go to their defaults but those that it names, and what was put on the photo. */
export function start(layer: KindLayer, label: string, params: Record<string, unknown>): void {
  commit(withParams(layer, startOf(layer, params)), words.variant(layer, label));
}

/** What was put on the photo by hand stays where it is when a starting point is taken. */
const placedOf = (layer: KindLayer): Record<string, ParamValue> =>
  Object.fromEntries(
    Object.entries(layer.params).filter(([name]) => {
      const param = kindOf(layer.kind).params[name];
      return param !== undefined && isPlaced(param);
    }),
  );

export const startOf = (layer: KindLayer, params: Record<string, unknown>): Record<string, ParamValue> => ({
  ...(defaults(kindOf(layer.kind).params) as Record<string, ParamValue>),
  ...placedOf(layer),
  ...(params as Record<string, ParamValue>),
});

export const gate = {
  show: (layer: Layer, side: GateSide, curve: Curve): void => show(change(now(), layer.id, (it) => ({ ...it, gate: { ...it.gate, [side]: curve } }))),
  keep: (layer: Layer, side: GateSide, curve: Curve): void =>
    commit(
      change(now(), layer.id, (it) => ({ ...it, gate: { ...it.gate, [side]: curve } })),
      words.gate(layer, side),
    ),
};

export const toggle = (layer: Layer): void => commit(set(layer.id, 'on', !layer.on), words.onOff(layer));
export const rename = (layer: Layer, name: string): void => commit(set(layer.id, 'name', name), words.rename(layer, name));
export const blend = (layer: Layer, mode: ModeId): void => commit(set(layer.id, 'blend', mode), words.blend(layer, mode));
export const reads = (layer: Layer, from: Layer['reads']): void => commit(set(layer.id, 'reads', from), words.reads(layer, from));

/** The stack with a new layer of a kind: below the open channel, or at the end. Inside an open group it becomes the last. */
export function withNew(kind: KindId): { stack: Stack; layer: Layer } {
  const stack = now();
  const { open } = useBench.getState();
  const at = open === undefined ? undefined : find(stack.layers, open);
  const layer = newLayer(kind, newId(), usePreview.getState().frame?.image);
  // A picture that is open takes new layers in: they change only it.
  const place: Place = !at ? 'end' : at.kind !== 'group' && at.layers && !lacks(at, 'photo') ? { into: at.id } : { after: at.id };
  return { stack: insert(stack, layer, place), layer };
}

/** Puts a layer where it is to land: a tap gives a kind that has a middle of its own that place; all else is a mask. */
function landed(stack: Stack, { id, kind }: Layer, { part, at, inHalves }: Ahead): Stack {
  const handle = kind === 'group' ? undefined : kindOf(kind).handle;
  if (handle === undefined || !('x' in handle) || part.part !== 'spot' || part.inverted)
    return change(stack, id, (it) => ({ ...it, mask: { ...it.mask, parts: [part] } }));
  const values = handle.shape === 'oval' && handle.onPicture ? inHalves : at;
  return change(stack, id, (it) => (it.kind === 'group' ? it : { ...it, params: { ...it.params, [handle.x]: values.x, [handle.y]: values.y } }));
}

/** Adds a layer, where a place was chosen there, and opens it. */
export function add(kind: KindId): void {
  const { ahead } = useWhere.getState();
  const { stack, layer } = withNew(kind);
  const to = ahead ? landed(stack, layer, ahead) : stack;
  commit(to, words.add(layer));
  openChannel(layer.id);
  if (ahead && find(to.layers, layer.id)?.mask.parts.length) useWhere.setState({ part: ahead.part.id });
}

export function takeOut(layer: Layer): void {
  commit(remove(now(), layer.id), words.remove(layer));
  openChannel(undefined);
}

/** Copies a layer with all that is in it, to stand after it. */
export function duplicate(layer: Layer): void {
  const again = (it: Layer): Layer => ({ ...it, id: newId(), ...(it.layers && { layers: it.layers.map(again) }) }) as Layer;
  const copy = again(layer);
  commit(insert(now(), copy, { after: layer.id }), words.add(copy));
  openChannel(copy.id);
}

export function moveTo(layer: Layer, place: Place): void {
  const moved = move(now(), layer.id, place);
  if (moved === now()) return;
  commit(moved, words.move(layer));
}

/** Puts two layers under one fader, and opens it. */
export function groupOnto(layer: Layer, onto: Layer): void {
  const id = newId();
  const grouped = groupWith(now(), layer.id, onto.id, id);
  if (grouped === now()) return notify(say.edits.theseTwoCannotBeGroupedThe);
  commit(grouped, words.group(layer, onto));
  openChannel(onto.layers ? onto.id : id);
}

export function takeApart(layer: Layer): void {
  commit(ungroup(now(), layer.id), words.ungroup(layer));
  openChannel(undefined);
}

/** The layer just before one, in the same group. */
export function previous(stack: Stack, layer: Layer): Layer | undefined {
  const siblings = parentOf(stack.layers, layer.id)?.layers ?? stack.layers;
  return siblings[siblings.findIndex(({ id }) => id === layer.id) - 1];
}

/** Moves a layer by keys: up and down among its like, in and out of groups. */
export function moveByKey(layer: Layer, key: string): boolean {
  const stack = now();
  const parent = parentOf(stack.layers, layer.id);
  const siblings = parent?.layers ?? stack.layers;
  const i = siblings.findIndex(({ id }) => id === layer.id);
  const [before, after] = [siblings[i - 1], siblings[i + 1]];
  if (key === 'earlier' && before) moveTo(layer, { before: before.id });
  else if (key === 'later' && after) moveTo(layer, { after: after.id });
  else if (key === 'in' && before) groupOnto(layer, before);
  else if (key === 'out' && parent) moveTo(layer, { after: parent.id });
  else return false;
  return true;
}

export const deskRows = (stack: Stack): ReturnType<typeof rows> => rows(stack.layers);
