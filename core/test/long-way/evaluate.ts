import { composite } from '../../src/blend/composite';
import { modeOf, type ModeId } from '../../src/blend';
import type { FilmPlace } from '../../src/geometry/shape';
import { kindOf, type Space } from '../../src/kinds';
import { curveFunction } from '../../src/masks/curve';
import type { Gate } from '../../src/masks/gate';
import { luma } from '../../src/pixels/colour';
import type { Layer, Stack } from '../../src/stack/schema';
import { fromLinear, fromOklab, source, toLinear, toOklab, type Image } from '../../src/work/image';
import { gaussian } from './gaussian';
import { Loops } from './loops';
import { map, pixel, straight, type Four, type Whole } from './picture';

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

  constructor(
    private readonly photo: Whole,
    private readonly place: FilmPlace,
    private readonly disturb: Disturb = exactly,
  ) {}

  picture(stack: Stack): Whole {
    const look = this.through(stack.layers, this.photo);
    return faded(this.photo, look, () => stack.master);
  }

  private through(layers: readonly Layer[], from: Whole): Whole {
    return layers.reduce((image, layer) => (layer.on ? this.mixed(image, layer) : image), from);
  }

  private mixed(image: Whole, layer: Layer): Whole {
    const feed = layer.reads === 'photo' ? this.photo : image;
    const result = this.disturb(this.resultOf(layer, feed), 'layer');
    const open = gateOf(layer.gate, result, image);
    const blended = blend(layer.blend, image, result);
    return faded(image, blended, (i) => layer.strength * open(i));
  }

  private resultOf(layer: Layer, feed: Whole): Whole {
    if (layer.kind === 'group') return this.through(layer.layers, feed);
    const kind = kindOf(layer.kind);
    const made = kind.work(source, layer.params, this.place);
    if (made === source) return feed;
    const way = conversions[kind.space];
    if (!way) return this.made(made, feed);
    return this.made(way.leave, this.made(made, this.made(way.enter, feed)));
  }

  /** An expression, worked off step by step on whole images. */
  private made(image: Image, read: Whole): Whole {
    switch (image.make) {
      case 'source':
        return read;
      case 'blur':
        return this.disturb(gaussian(this.made(image.from, read), image.sigmaPx), image);
      case 'mix': {
        const [under, over] = [this.made(image.under, read), this.made(image.over, read)];
        return faded(under, blend(image.mode, under, over), () => image.strength);
      }
      case 'point':
        return this.loops.run(
          image.op,
          image.numbers,
          image.table,
          image.from.map((from) => this.made(from, read)),
        );
    }
  }
}

/** A layer that was made from what lies beneath takes its place. */
const blend = (mode: ModeId, under: Whole, over: Whole): Whole => map(under, (i) => composite(modeOf(mode), pixel(under, i), pixel(over, i), 1, 0));

const faded = (from: Whole, to: Whole, share: (i: number) => number): Whole =>
  map(from, (i) => {
    const [a, b, t] = [pixel(from, i), pixel(to, i), share(i)];
    return a.map((v, c) => v + ((b[c] as number) - v) * t);
  });

const tone = (v: Four): number => {
  const [r, g, b] = straight(v);
  return Math.min(1, Math.max(0, luma([r, g, b])));
};

function gateOf({ own, beneath }: Gate, result: Whole, image: Whole): (i: number) => number {
  const [byOwn, byBeneath] = [curveFunction(own), curveFunction(beneath)];
  return (i) => byOwn(tone(pixel(result, i))) * byBeneath(tone(pixel(image, i)));
}
