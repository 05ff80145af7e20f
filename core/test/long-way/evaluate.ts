import { composite } from '../../src/blend/composite';
import { modeOf, type ModeId } from '../../src/blend';
import type { FilmPlace } from '../../src/geometry/shape';
import { developed, type Development } from '../../src/kinds/development';
import { kindOf, workOf, type Space } from '../../src/kinds';
import { curveFunction } from '../../src/pixels/curve';
import type { Gate } from '../../src/masks/gate';
import type { Mask, Part } from '../../src/masks/mask';
import { partKindOf } from '../../src/masks/parts';
import { luma } from '../../src/pixels/colour';
import type { Gamut } from '../../src/pixels/gamut';
import { allLayers, type Layer, type Stack } from '../../src/stack/schema';
import { source, type Image } from '../../src/expressions/image';
import { fromLinear, fromOklab, toLinear, toOklab } from '../../src/expressions/colour';
import { filterOf } from '../../src/expressions/filters';
import { opIn, opOf } from '../../src/expressions/ops';
import { gaussian } from './gaussian';
import { Loops } from './loops';
import { map, pixel, straight, type Four, type Whole } from './picture';
import { resampled } from './resample';

const conversions: Record<Space, { enter: Image; leave: Image } | undefined> = {
  encoded: undefined,
  linear: { enter: toLinear(source), leave: fromLinear(source) },
  oklab: { enter: toOklab(source), leave: fromOklab(source) },
};

/** Changes what a blur or a layer gives by a little, to learn how much an error of theirs would matter. */
export type Disturb = (image: Whole, of: 'layer' | { readonly sigmaPx: number }) => Whole;
const exactly: Disturb = (image) => image;

/**
 * What a stack makes of a photo, the long way: layer after layer, expression after expression, on whole images, with nothing planned, tiled, tabulated,
 * fused, reduced or held. It is what the engine must agree with, and written to be read.
 */
export class LongWay {
  private readonly loops = new Loops();
  private layers: readonly Layer[] = [];

  private readonly photo: Whole;

  constructor(
    sent: Whole,
    private readonly place: FilmPlace,
    private readonly disturb: Disturb = exactly,
    development?: Development,
  ) {
    this.photo = sent;
    const { headroom, gamut } = place;
    if (headroom !== undefined) this.photo = this.made(developed(headroom, development, gamut), { image: sent }).image;
  }

  picture(stack: Stack): Whole {
    this.layers = allLayers(stack.layers);
    const look = this.through(stack.layers, { image: this.photo });
    return faded(this.photo, look.image, () => stack.master);
  }

  /** Coverage of a mask, a number for each pixel; nothing, if it lets all through. */
  coverage({ on, parts, soften, density, inverted }: Mask, beneath: Whole): ((i: number) => number) | undefined {
    const live = parts.filter((part) => part.on);
    if (!on || (live.length === 0 && !inverted)) return undefined;
    const [first] = live;
    const start = first === undefined || first.join !== 'add' ? 1 : 0;
    let sum = map(this.photo, () => [start, start, start, start]);
    for (const part of live) {
      const own = this.part(part, beneath);
      sum = map(sum, (i) => {
        const [a, b] = [at(sum, i), at(own, i)];
        if (part.join === 'add') return splat(1 - (1 - a) * (1 - part.amount * b));
        if (part.join === 'take') return splat(a * (1 - part.amount * b));
        return splat(a * (1 - part.amount * (1 - b)));
      });
    }
    const sigmaPx = soften * this.place.edge;
    const softened = sigmaPx < 0.2 ? sum : this.disturb(gaussian(sum, sigmaPx), { sigmaPx });
    return (i) => 1 - density * (1 - (inverted ? 1 - at(softened, i) : at(softened, i)));
  }

  private part({ part, params, reads, keep, inverted }: Part, beneath: Whole): Whole {
    const read = { image: reads === 'photo' ? this.photo : beneath };
    const plain =
      part === 'same-as'
        ? this.sameAs(String(params['layer']), beneath)
        : this.made(
            partKindOf(part).work(params as never, this.place, source, () => undefined),
            read,
          ).image;
    const led = keep === 0 ? plain : this.ledAlongEdges(plain);
    return map(plain, (i) => {
      const value = at(plain, i) + (at(led, i) - at(plain, i)) * keep;
      return splat(inverted ? 1 - value : value);
    });
  }

  private sameAs(id: string, beneath: Whole): Whole {
    const layer = this.layers.find((one) => one.id === id);
    const coverage = layer && this.coverage(layer.mask, beneath);
    return map(this.photo, (i) => splat(coverage ? coverage(i) : 1));
  }

  /** A guided filter of coverage by the photo's tones: the line that fits best in each neighbourhood, and its mean. */
  private ledAlongEdges(coverage: Whole): Whole {
    const sigmaPx = 0.01 * this.place.edge;
    const blurred = (image: Whole): Whole => this.disturb(gaussian(image, sigmaPx), { sigmaPx });
    const means = blurred(
      map(coverage, (i) => [tone0(this.photo, i), tone0(this.photo, i) ** 2, at(coverage, i), tone0(this.photo, i) * at(coverage, i)]),
    );
    const lines = blurred(
      map(means, (i) => {
        const [y, yy, p, py] = pixel(means, i);
        const slope = (py - y * p) / (Math.max(yy - y * y, 0) + 6e-4);
        return [slope, p - slope * y, 0, 0];
      }),
    );
    return map(lines, (i) => {
      const [slope, offset] = pixel(lines, i);
      return splat(Math.min(1, Math.max(0, slope * tone0(this.photo, i) + offset)));
    });
  }

  private through(layers: readonly Layer[], from: Read): Read {
    return layers.reduce<Read>((image, layer) => (layer.on && layer.strength > 0 ? this.mixed(image, layer) : image), from);
  }

  private mixed(below: Read, layer: Layer): Read {
    const { image } = below;
    if (layer.kind === 'picture' && layer.params['photo'] === '') return below;
    const coverage = this.coverage(layer.mask, image);
    const brings = layer.kind === 'picture';
    const feed: Read = { ...below, image: layer.reads === 'photo' ? this.photo : image };
    const weight = coverage && layer.masked && !brings ? map(image, (i) => splat(coverage(i))) : feed.weight;
    const made = this.resultOf(layer, { image: feed.image, ...(weight && { weight }) });
    const result = this.disturb(made.image, 'layer');
    const open = gateOf(layer.gate, result, image, this.place.gamut);
    const masked = coverage ?? ((): number => 1);
    const own = (i: number): number => at(made.weight as Whole, i);
    const lands = brings ? (i: number): number => own(i) * masked(i) : coverage && layer.masked ? own : masked;
    const blended = blend(layer.blend, image, result);
    const mixed = faded(image, blended, (i) => layer.strength * lands(i) * open(i));
    return { image: mixed, ...(below.weight && (brings ? { weight: below.weight } : furthest([below, made]))) };
  }

  private resultOf(layer: Layer, feed: Read): Read {
    if (layer.kind === 'group') return this.through(layer.layers, feed);
    const kind = kindOf(layer.kind);
    const made = workOf(kind, layer.revision ?? 1)(source, layer.params, this.place);
    if (kind.cover) {
      const weight = this.made(kind.cover(layer.params as never, this.place), feed).image;
      return this.through(layer.layers ?? [], { image: this.made(made, feed).image, weight });
    }
    if (made === source) return feed;
    const way = conversions[kind.space];
    if (!way) return this.made(made, feed);
    return this.made(way.leave, this.made(made, this.made(way.enter, feed)));
  }

  /** A blur takes in what it has weights for; where there is next to none, the image stays as it is. */
  private blurred({ image, weight }: Read, { sigmaPx, by }: Extract<Image, { make: 'blur' }>, numbers: boolean): Read {
    const blur = (of: Whole): Whole => this.disturb(by ? this.loops.filter(by, of) : gaussian(of, sigmaPx), { sigmaPx });
    if (!weight) return { image: blur(image) };
    if (by && !filterOf(by.filter).mean) return { image: blur(image), weight };
    const [sums, further] = [blur(map(image, (i) => pixel(image, i).map((v) => v * at(weight, i)))), blur(weight)];
    const evened = map(image, (i) => {
      const sum = pixel(sums, i);
      if (numbers) return sum.map((v) => v / Math.max(at(further, i), 1e-4));
      const alpha = pixel(image, i)[3];
      return sum[3] > 1e-4 ? [...sum.slice(0, 3).map((v) => (v / sum[3]) * alpha), alpha] : pixel(image, i);
    });
    return { image: evened, weight: further };
  }

  /** An expression, worked off step by step on whole images. */
  private made(image: Image, read: Read): Read {
    switch (image.make) {
      case 'source':
        return read;
      case 'photo':
        return { image: this.photo };
      case 'picture':
        return { image: resampled(image.name, image.map, this.photo) };
      case 'blur': {
        return this.blurred(this.made(image.from, read), image, isNumbers(image.from));
      }
      case 'mix': {
        const [under, over, mask] = [this.made(image.under, read), this.made(image.over, read), image.mask && this.made(image.mask, read)];
        const mixed = faded(under.image, blend(image.mode, under.image, over.image), (i) => image.strength * (mask ? at(mask.image, i) : 1));
        return { image: mixed, ...furthest([under, over]) };
      }
      case 'point': {
        const from = image.from.map((each) => this.made(each, read));
        const made = this.loops.run(
          opIn(this.place.gamut ?? 'srgb', image.op),
          image.numbers,
          image.table,
          from.map((each) => each.image),
          this.photo,
        );
        return { image: made, ...furthest(from) };
      }
    }
  }
}

/** An image, and how far it comes from what a mask let through. */
interface Read {
  readonly image: Whole;
  readonly weight?: Whole;
}
const furthest = (reads: readonly Read[]): { weight?: Whole } => {
  const [first, ...others] = [...new Set(reads.flatMap(({ weight }) => (weight ? [weight] : [])))];
  if (!first) return {};
  return { weight: others.reduce((all, one) => map(all, (i) => splat(1 - (1 - at(all, i)) * (1 - at(one, i)))), first) };
};
const isNumbers = (image: Image): boolean =>
  image.make === 'blur' ? isNumbers(image.from) : image.make === 'point' && opOf(image.op).gives === 'numbers';
const splat = (v: number): Four => [v, v, v, v];
const at = (coverage: Whole, i: number): number => coverage.at[4 * i] as number;
const tone0 = (image: Whole, i: number): number => {
  const [r, g, b] = straight(pixel(image, i));
  return luma([r, g, b]);
};

/** A layer that was made from what lies beneath takes its place. */
const blend = (mode: ModeId, under: Whole, over: Whole): Whole => map(under, (i) => composite(modeOf(mode), pixel(under, i), pixel(over, i), 1, 0));

const faded = (from: Whole, to: Whole, share: (i: number) => number): Whole =>
  map(from, (i) => {
    const [a, b, t] = [pixel(from, i), pixel(to, i), share(i)];
    return a.map((v, c) => v + ((b[c] as number) - v) * t);
  });

/** By the row for Y of the matrix from Display P3 to XYZ (CSS Color Module Level 4). */
const toneInP3 = ([r, g, b]: readonly number[]): number => 0.22897 * (r ?? 0) + 0.69174 * (g ?? 0) + 0.07929 * (b ?? 0);
const tone = (v: Four, gamut?: Gamut): number => {
  const [r, g, b] = straight(v);
  return Math.min(1, Math.max(0, gamut === 'display-p3' ? toneInP3([r, g, b]) : luma([r, g, b])));
};

function gateOf({ own, beneath }: Gate, result: Whole, image: Whole, gamut?: Gamut): (i: number) => number {
  const [byOwn, byBeneath] = [curveFunction(own), curveFunction(beneath)];
  return (i) => byOwn(tone(pixel(result, i), gamut)) * byBeneath(tone(pixel(image, i), gamut));
}
