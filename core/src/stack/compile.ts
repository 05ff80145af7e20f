import { coverageOf } from '../masks/coverage';
import { lightMap } from '../painting/table';
import { curveFunction, isLevel, tabulate, type Curve } from '../pixels/curve';
import type { FilmPlace } from '../geometry/shape';
import { kindOf, workOf, type Space } from '../kinds';
import {
  either,
  fromLinear,
  fromOklab,
  greys,
  inverted,
  matrix,
  nothing,
  scaled,
  source,
  toLinear,
  toOklab,
  type Image,
  type Rows,
  type Table,
} from '../expressions/image';
import { filterOf } from '../expressions/filters';
import { opOf, undoes, type Content, type OpId } from '../expressions/ops';
import { inputsOf, PHOTO, slice, type ValueNumbers, type Program, type Step, type Value } from './program';
import { BexlenError } from '../errors';
import { echoed } from '../refusals';
import type { Matrix } from '../geometry/matrix';
import { noResources, type Resources } from '../resources';
import { askedBy } from './references';
import { allLayers, type Layer, type Stack } from './schema';

/** How each space is entered from encoded values and left again. */
const spaces: Record<Space, { enter: Image; leave: (image: Image) => Image }> = {
  encoded: { enter: source, leave: (image) => image },
  linear: { enter: toLinear(source), leave: fromLinear },
  oklab: { enter: toOklab(source), leave: fromOklab },
};

/** Whether a step makes nothing beyond black and white out of what lies between them. */
function staysInside(step: Step): boolean {
  if (step.do === 'mix') return step.strength <= 1;
  if (step.do === 'fade') return step.t <= 1;
  if (step.do === 'picture') return true;
  return step.do === 'blur' || (step.do === 'point' && opOf(step.op).inside === true);
}

/** The primaries of the finished picture; encoded as sRGB is. */
export type Gamut = 'srgb' | 'display-p3';

/** Linear sRGB to linear Display P3 (CSS Color Module Level 4, sample code for "Conversions"). */
const TO_P3: Rows = [
  [0.8224619687, 0.1775380313, 0],
  [0.0331941989, 0.9668058011, 0],
  [0.0170826307, 0.0723974407, 0.9105199286],
];

export interface Watch {
  /** The layer whose tones are wanted. */
  readonly layer: string;
}

/** What is wanted besides the picture, or instead of it. */
export interface Asked {
  readonly watch?: Watch | undefined;
  readonly gamut?: Gamut | undefined;
  /** Instead of the picture, as greys: the mask of a layer, by its id; what any live layer's mask lets through; or the map of light that is painted on a layer. */
  readonly mask?: string | undefined;
}
/** For `Asked.mask`: the map of light of a layer, middle grey where there is none, a quarter of the way to white for each stop. */
export const lightMapOf = (layer: string): string => `${LIGHT}${layer}`;
const LIGHT = 'light ';
/** For `Asked.mask`: what a layer's controls on the photo stand for, as its kind tells. */
export const controlMapOf = (layer: string): string => `${CONTROLS}${layer}`;
const CONTROLS = 'controls ';
const GREY_A_STOP = 0.25;
/** For `Asked.mask`: of all layers together. */
export const EVERY_MASK = '*';

/** How a blur spreads. */
type Spreading = Pick<Extract<Image, { make: 'blur' }>, 'sigmaPx' | 'by'>;

/** Whether a layer's kind brings pixels of its own; and whether they are at hand: without them it does nothing. */
const brings = (layer: Layer): boolean => layer.kind !== 'group' && kindOf(layer.kind).cover !== undefined;
const hasPicture = (layer: Layer, { pictures }: Resources): boolean =>
  !brings(layer) || allLayers([layer]).every((each) => askedBy(each, 'photo').every((name) => pictures.keyOf(name) !== undefined));

/** A value, and how far it comes from what a mask let through: coverage, where only a part is read. */
interface Read {
  readonly value: Value;
  readonly weight?: Value;
}

/** The program of a checked stack for a picture at its place. Layers that are off or at strength 0 leave no trace. */
export function compile(stack: Stack, place: FilmPlace, names: ValueNumbers, { watch, gamut = 'srgb', mask: shown }: Asked = {}): Program {
  const { resources = noResources } = place;
  names.begin();
  const steps = new Map<Value, Step>();
  const tables = new Map<string, () => Float32Array>();
  const numbers = new Set<Value>();
  const contentOf = (value: Value): Content => (numbers.has(value) ? 'numbers' : 'colour');
  /** Values between black and white. */
  const inside = new Set<Value>([PHOTO]);
  let watched: Program['watched'];

  const emit = (recipe: string, make: (to: Value) => Step): Value => {
    const to = names.of(recipe);
    if (steps.has(to)) return to;
    const step = make(to);
    const within = inputsOf(step).every((value) => inside.has(value));
    if (within && staysInside(step)) inside.add(to);
    steps.set(to, within && step.do === 'mix' ? { ...step, inside: true } : step);
    return to;
  };
  const table = ({ id, make }: Table): string => {
    if (!tables.has(id)) tables.set(id, make);
    return id;
  };
  const gateTable = (c: Curve): string | undefined =>
    isLevel(c) ? undefined : table({ id: `curve ${JSON.stringify(c)}`, make: () => tabulate(curveFunction(c)) });

  const point = (op: OpId, from: readonly Value[], given: readonly number[] = [], made?: Table): Value => {
    const { takes, gives } = opOf(op);
    from.forEach((value, i) => {
      if (contentOf(value) !== takes[i]) throw new Error(`${op} takes ${takes[i]} as its input ${i + 1}, not ${contentOf(value)}`);
    });
    const last = from[0] === undefined ? undefined : steps.get(from[0]);
    if (last?.do === 'point' && undoes[op] === last.op) return last.from[0] as Value;
    const id = made && table(made);
    const recipe = `${op} ${given.join(' ')} ${id ?? '-'} ${from.map((v) => `#${v}`).join(' ')}`;
    const to = emit(recipe, (at) => ({ do: 'point', to: at, op, from, numbers: given, ...(id !== undefined && { table: id }) }));
    if (gives === 'numbers') numbers.add(to);
    return to;
  };
  const blur = (from: Value, { sigmaPx, by }: Spreading): Value => {
    const of = contentOf(from);
    const recipe = by ? `${by.filter} ${by.numbers.join(' ')}` : `blur ${sigmaPx}`;
    const to = emit(`${recipe} #${from}`, (made) => ({
      do: 'blur',
      to: made,
      from,
      sigmaPx,
      ...(of === 'numbers' && { numbers: true }),
      ...(by && { by }),
    }));
    if (of === 'numbers') numbers.add(to);
    return to;
  };
  const picture = (name: string, map: Matrix): Value => {
    const key = resources.pictures.keyOf(name);
    if (key === undefined) throw new BexlenError('not-found', `The picture “${echoed(name)}” is not at hand.`, 'Choose a photo in its layer again.');
    const to = emit(`picture ${key} ${map.join(' ')}`, (made) => ({ do: 'picture', to: made, name, key, map }));
    numbers.add(to);
    return to;
  };
  const mixed = (rest: Omit<Extract<Step, { do: 'mix' }>, 'do' | 'to'>): Value => {
    const { mode, strength, own, beneath, mask, under, over } = rest;
    const recipe = `mix ${mode} ${strength} ${own ?? '-'} ${beneath ?? '-'} #${under} #${over}${mask === undefined ? '' : ` #${mask}`}`;
    return emit(recipe, (to) => ({ do: 'mix', to, ...rest }));
  };

  /** A blur that takes in only what a mask let through: normalised convolution (H. Knutsson and C.-F. Westin 1993). Where nothing is near, the image stays as it is. */
  const spread = ({ value, weight }: Required<Read>, way: Spreading): Required<Read> => {
    const further = blur(weight, way);
    if (contentOf(value) === 'numbers') return { value: point('shared', [blur(point('both', [value, weight]), way), further]), weight: further };
    return { value: point('evened', [value, blur(point('weighed', [value, weight]), way)]), weight: further };
  };

  /** The value of an expression on what a layer reads. */
  const valueOf = (image: Image, read: Read): Read => {
    switch (image.make) {
      case 'source':
        return read;
      case 'photo':
        return { value: PHOTO };
      case 'picture':
        return { value: picture(image.name, image.map) };
      case 'blur': {
        const { value, weight } = valueOf(image.from, read);
        if (weight === undefined) return { value: blur(value, image) };
        // What looks at all of an image does so here too.
        return image.by && !filterOf(image.by.filter).mean ? { value: blur(value, image), weight } : spread({ value, weight }, image);
      }
      case 'mix': {
        const { mode, strength } = image;
        const [under, over, mask] = [image.under, image.over, image.mask].map((each) => each && valueOf(each, read)) as [
          Read,
          Read,
          Read | undefined,
        ];
        const value = mixed({ under: under.value, over: over.value, mode, strength, ...(mask && { mask: mask.value }) });
        return { value, ...furthest(under, over) };
      }
      case 'point': {
        const from = image.from.map((each) => valueOf(each, read));
        const value = point(
          image.op,
          from.map((each) => each.value),
          image.numbers,
          image.table,
        );
        return { value, ...furthest(...from) };
      }
    }
  };
  /** The weights of what was made of several images: as far as any of them reaches. */
  const furthest = (...reads: readonly Read[]): { weight?: Value } => {
    const weights = [...new Set(reads.flatMap(({ weight }) => (weight === undefined ? [] : [weight])))];
    const [first, ...others] = weights;
    return first === undefined ? {} : { weight: others.reduce((all, weight) => point('either', [all, weight]), first) };
  };

  const byId = new Map(allLayers(stack.layers).map((layer) => [layer.id, layer]));
  /** The expression of a layer's mask; nothing, if it lets all through. A circle has been refused before. */
  const maskOf = (id: string): Image | undefined => {
    const layer = byId.get(id);
    return layer && coverageOf(layer.mask, place, maskOf);
  };

  const resultOf = (layer: Layer, feed: Read): Read => {
    if (layer.kind === 'group') return through(layer.layers, feed);
    const kind = kindOf(layer.kind);
    if (kind.cover) {
      const weight = valueOf(kind.cover(layer.params as never, place), feed).value;
      return through(layer.layers ?? [], { value: valueOf(workOf(kind, layer.revision ?? 1)(source, layer.params, place), feed).value, weight });
    }
    const { enter, leave } = spaces[kind.space];
    const made = workOf(kind, layer.revision ?? 1)(enter, layer.params, place);
    return made === enter ? feed : valueOf(leave(made), feed);
  };

  const mix = (under: Value, over: Value, { blend: mode, strength, gate }: Layer, mask: Value | undefined): Value => {
    if (mode === 'normal' && under === over) return under;
    const own = gateTable(gate.own);
    const beneath = gateTable(gate.beneath);
    if (mode === 'normal' && strength === 1 && !own && !beneath && mask === undefined) return over;
    return mixed({ under, over, mode, strength, ...(own && { own }), ...(beneath && { beneath }), ...(mask !== undefined && { mask }) });
  };

  function through(layers: readonly Layer[], from: Read): Read {
    return layers.reduce<Read>((image, layer) => {
      const live = layer.on && layer.strength > 0 && hasPicture(layer, resources);
      const asked = watch?.layer === layer.id && hasPicture(layer, resources);
      if (!live && !asked) return image;
      const coverage = maskOf(layer.id);
      const mask = coverage && valueOf(coverage, { value: image.value }).value;
      const feed = layer.reads === 'photo' ? { value: PHOTO, ...(image.weight !== undefined && { weight: image.weight }) } : image;
      const { value, weight } = resultOf(layer, layer.masked && mask !== undefined && !brings(layer) ? { value: feed.value, weight: mask } : feed);
      if (asked) watched = { own: value, beneath: image.value };
      if (!live) return image;
      const covers = brings(layer);
      const spread = covers || (layer.masked && mask !== undefined) ? weight : mask;
      const lands = covers && mask !== undefined && weight !== undefined ? point('both', [weight, mask]) : spread;
      return {
        value: mix(image.value, value, layer, lands),
        ...(image.weight !== undefined && (covers ? { weight: image.weight } : furthest(image, { value, ...(weight !== undefined && { weight }) }))),
      };
    }, from);
  }

  const image = through(stack.layers, { value: PHOTO }).value;
  const mastered = faded(image, stack.master);
  const finished = gamut === 'srgb' ? mastered : valueOf(fromLinear(matrix(toLinear(source), TO_P3)), { value: mastered }).value;
  const out = shown === undefined ? finished : greysOf(shown);

  function faded(toward: Value, t: number): Value {
    if (t === 1 || toward === PHOTO) return toward;
    if (t === 0) return PHOTO;
    return emit(`fade ${t} #${PHOTO} #${toward}`, (to) => ({ do: 'fade', to, from: PHOTO, toward, t }));
  }

  /** Coverage as a picture. What lies beneath a layer is what is beneath it in the whole stack. */
  function greysOf(asked: string): Value {
    if (asked.startsWith(LIGHT)) return valueOf(greys(lightOf(byId.get(asked.slice(LIGHT.length)))), { value: PHOTO }).value;
    if (asked.startsWith(CONTROLS)) return valueOf(greys(controlsOf(byId.get(asked.slice(CONTROLS.length)))), { value: PHOTO }).value;
    const layer = byId.get(asked);
    const all = asked === EVERY_MASK ? anyOf(touchedBy(stack.layers)) : layer && coverageOf({ ...layer.mask, on: true }, place, maskOf);
    return valueOf(greys(all ?? inverted(nothing(place))), { value: beneathOf(asked) }).value;
  }
  /** What live layers land on: coverage each, or nothing for all of the picture. A group without a mask lands where its layers do. */
  function touchedBy(layers: readonly Layer[]): readonly (Image | undefined)[] {
    return layers
      .filter(({ on, strength }) => on && strength > 0)
      .flatMap((layer) => {
        const own = maskOf(layer.id);
        return own || layer.kind !== 'group' ? [own] : touchedBy(layer.layers);
      });
  }
  function anyOf(all: readonly (Image | undefined)[]): Image | undefined {
    const coverage = all.filter((it) => it !== undefined);
    return coverage.length < all.length ? undefined : coverage.reduce(either, nothing(place));
  }
  function controlsOf(layer: Layer | undefined): Image {
    const map = layer && layer.kind !== 'group' ? kindOf(layer.kind).map?.(layer.params as never, place) : undefined;
    return map ?? nothing(place);
  }
  function lightOf(layer: Layer | undefined): Image {
    const params = layer && layer.kind !== 'group' ? kindOf(layer.kind).params : {};
    const [name] = Object.entries(params).flatMap(([id, param]) =>
      param.type === 'strokes' && layer?.kind !== 'group' ? [String(layer?.params[id])] : [],
    );
    return scaled(name ? lightMap(name, place, nothing(place)) : nothing(place), GREY_A_STOP, 0.5);
  }
  /** What the first layer inside another one reads: what lies beneath that, or the pixels that it brings. */
  function firstIn(holder: Layer, beneath: Read): Read {
    return brings(holder) && hasPicture(holder, resources) ? resultOf({ ...holder, layers: [] } as Layer, beneath) : beneath;
  }
  function beneathOf(id: string): Value {
    const below = (layers: readonly Layer[], from: Read): Read | undefined => {
      for (const [i, layer] of layers.entries()) {
        const before = (): Read => through(layers.slice(0, i), from);
        if (layer.id === id) return before();
        const holder = layer.layers && allLayers(layer.layers).some((other) => other.id === id) ? layer : undefined;
        const inside = holder?.layers && below(holder.layers, firstIn(holder, before()));
        if (inside) return inside;
      }
      return undefined;
    };
    return below(stack.layers, { value: PHOTO })?.value ?? PHOTO;
  }

  const made = shown === undefined ? [...steps.values()] : slice([...steps.values()], [out], new Set());
  return { steps: made, out, tables, numbers, ...(watched && shown === undefined && { watched }) };
}
