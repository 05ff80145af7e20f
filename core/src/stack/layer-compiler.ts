import { source, type Image } from '../expressions/image';
import { fromLinear, fromOklab, toLinear, toOklab } from '../expressions/colour';
import type { FilmPlace } from '../geometry/shape';
import { kindOf, workOf, type Space } from '../kinds';
import { coverageOf } from '../masks/coverage';
import { lumaOf } from '../pixels/gamut';
import { curveFunction, isLevel, tabulate, type Curve } from '../pixels/curve';
import { noResources, type Resources } from '../resources';
import type { Emitter } from './emitter';
import { furthest, lowered, type Read } from './lowering';
import type { Value, Watched } from './program';
import { askedBy } from './references';
import { allLayers, type Layer, type Stack } from './schema';

/** How each space is entered from encoded values and left again. */
const spaces: Record<Space, { enter: Image; leave: (image: Image) => Image }> = {
  encoded: { enter: source, leave: (image) => image },
  linear: { enter: toLinear(source), leave: fromLinear },
  oklab: { enter: toOklab(source), leave: fromOklab },
};

/** Whether a layer's kind brings pixels of its own. */
const brings = (layer: Layer): boolean => layer.kind !== 'group' && kindOf(layer.kind).cover !== undefined;

/** Emits the work of layers, for a picture at its place. Layers that are off or at strength 0, and those whose own picture is not at hand, leave no trace. */
export class LayerCompiler {
  readonly byId: ReadonlyMap<string, Layer>;
  /** What is watched, once its layer was compiled. */
  watched: Watched | undefined;
  private readonly resources: Resources;

  constructor(
    private readonly stack: Stack,
    private readonly place: FilmPlace,
    private readonly emitter: Emitter,
    private readonly watch?: string,
  ) {
    this.byId = new Map(allLayers(stack.layers).map((layer) => [layer.id, layer]));
    this.resources = place.resources ?? noResources;
  }

  /** What all layers make of the photo. */
  result(): Value {
    return this.through(this.stack.layers, { value: this.emitter.photo }).value;
  }

  /** The expression of a layer's mask; nothing, if it lets all through. A circle has been refused before. */
  readonly maskOf = (id: string): Image | undefined => {
    const layer = this.byId.get(id);
    return layer && coverageOf(layer.mask, this.place, this.maskOf);
  };

  /** What lies beneath a layer, in a group or not. The photo, where there is no such layer. */
  beneath(id: string): Value {
    return this.beneathWithin(this.stack.layers, { value: this.emitter.photo }, id)?.value ?? this.emitter.photo;
  }

  private beneathWithin(layers: readonly Layer[], from: Read, id: string): Read | undefined {
    for (const [i, layer] of layers.entries()) {
      const before = (): Read => this.through(layers.slice(0, i), from);
      if (layer.id === id) return before();
      const holds = layer.layers && allLayers(layer.layers).some((other) => other.id === id);
      const found = holds && this.beneathWithin(layer.layers, this.readInside(layer, before()), id);
      if (found) return found;
    }
    return undefined;
  }

  /** What the first layer inside another one reads: what lies beneath that, or the pixels that it brings. */
  private readInside(holder: Layer, beneath: Read): Read {
    return brings(holder) && this.hasPicture(holder) ? this.own({ ...holder, layers: [] } as Layer, beneath) : beneath;
  }

  private through(layers: readonly Layer[], from: Read): Read {
    return layers.reduce<Read>((image, layer) => this.over(image, layer), from);
  }

  /** What is there once a layer lies on what was there before. */
  private over(image: Read, layer: Layer): Read {
    const live = layer.on && layer.strength > 0 && this.hasPicture(layer);
    const isWatched = this.watch === layer.id && this.hasPicture(layer);
    if (!live && !isWatched) return image;
    const mask = this.maskValue(layer, image);
    const own = this.own(layer, this.feed(layer, image, mask));
    if (isWatched) this.watched = { own: own.value, beneath: image.value, weights: lumaOf(this.place.gamut) };
    if (!live) return image;
    const value = this.mixed(image.value, own.value, layer, this.landing(layer, mask, own.weight));
    if (image.weight === undefined) return { value };
    return { value, ...(brings(layer) ? { weight: image.weight } : furthest(this.emitter, image, { ...own, value })) };
  }

  private maskValue(layer: Layer, image: Read): Value | undefined {
    const coverage = this.maskOf(layer.id);
    return coverage && lowered(this.emitter, coverage, { value: image.value }).value;
  }

  /** What a layer reads: the image beneath it or the photo, and of it what its mask lets through, if it is to read no more. */
  private feed(layer: Layer, image: Read, mask: Value | undefined): Read {
    const fed = layer.reads === 'photo' ? { ...image, value: this.emitter.photo } : image;
    return layer.masked && mask !== undefined && !brings(layer) ? { value: fed.value, weight: mask } : fed;
  }

  /** What a layer makes of what it reads, before it is mixed in. */
  private own(layer: Layer, feed: Read): Read {
    if (layer.kind === 'group') return this.through(layer.layers, feed);
    const kind = kindOf(layer.kind);
    const work = workOf(kind, layer.revision ?? 1);
    if (kind.cover) {
      const weight = lowered(this.emitter, kind.cover(layer.params as never, this.place), feed).value;
      const { value } = lowered(this.emitter, work(source, layer.params, this.place), feed);
      return this.through(layer.layers ?? [], { value, weight });
    }
    const { enter, leave } = spaces[kind.space];
    const made = work(enter, layer.params, this.place);
    return made === enter ? feed : lowered(this.emitter, leave(made), feed);
  }

  /** The coverage by which a layer lands on what is beneath it: its mask, how far what it read through the mask has spread, or the place of what it brings. */
  private landing(layer: Layer, mask: Value | undefined, weight: Value | undefined): Value | undefined {
    if (brings(layer)) return mask !== undefined && weight !== undefined ? this.emitter.point('both', [weight, mask]) : weight;
    return layer.masked && mask !== undefined ? weight : mask;
  }

  private mixed(under: Value, over: Value, { blend: mode, strength, gate }: Layer, mask: Value | undefined): Value {
    if (mode === 'normal' && under === over) return under;
    const own = this.gateTable(gate.own);
    const beneath = this.gateTable(gate.beneath);
    if (mode === 'normal' && strength === 1 && !own && !beneath && mask === undefined) return over;
    return this.emitter.mix({
      under,
      over,
      mode,
      strength,
      ...(own && { own }),
      ...(beneath && { beneath }),
      ...((own || beneath) && { weights: lumaOf(this.place.gamut) }),
      ...(mask !== undefined && { mask }),
    });
  }

  private gateTable(curve: Curve): string | undefined {
    return isLevel(curve) ? undefined : this.emitter.table({ id: `curve ${JSON.stringify(curve)}`, make: () => tabulate(curveFunction(curve)) });
  }

  /** Whether the pixels that a layer's kind brings are at hand. */
  private hasPicture(layer: Layer): boolean {
    const { pictures } = this.resources;
    return !brings(layer) || allLayers([layer]).every((each) => askedBy(each, 'photo').every((name) => pictures.keyOf(name) !== undefined));
  }
}
