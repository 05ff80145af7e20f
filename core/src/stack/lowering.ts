import { filterOf } from '../expressions/filters';
import type { Image } from '../expressions/image';
import type { Emitter, Spreading } from './emitter';
import type { Value } from './program';

/** A value, and how far it comes from what a mask let through: coverage, where only a part is read. */
export interface Read {
  readonly value: Value;
  readonly weight?: Value;
}

/** The value of an expression on what a layer reads. */
export function lowered(emitter: Emitter, image: Image, read: Read): Read {
  switch (image.make) {
    case 'source':
      return read;
    case 'photo':
      return { value: emitter.photo };
    case 'picture':
      return { value: emitter.picture(image.name, image.map) };
    case 'blur': {
      const { value, weight } = lowered(emitter, image.from, read);
      if (weight === undefined) return { value: emitter.blur(value, image) };
      // What looks at all of an image does so here too.
      return image.by && !filterOf(image.by.filter).mean ? { value: emitter.blur(value, image), weight } : spread(emitter, { value, weight }, image);
    }
    case 'mix': {
      const { mode, strength } = image;
      const [under, over] = [lowered(emitter, image.under, read), lowered(emitter, image.over, read)];
      const mask = image.mask && lowered(emitter, image.mask, read).value;
      const value = emitter.mix({ under: under.value, over: over.value, mode, strength, ...(mask !== undefined && { mask }) });
      return { value, ...furthest(emitter, under, over) };
    }
    case 'point': {
      const from = image.from.map((each) => lowered(emitter, each, read));
      const values = from.map(({ value }) => value);
      return { value: emitter.point(image.op, values, image.numbers, image.table), ...furthest(emitter, ...from) };
    }
  }
}

/** The weight of what was made of several images: as far as any of them reaches. */
export function furthest(emitter: Emitter, ...reads: readonly Read[]): { weight?: Value } {
  const weights = [...new Set(reads.flatMap(({ weight }) => (weight === undefined ? [] : [weight])))];
  const [first, ...others] = weights;
  return first === undefined ? {} : { weight: others.reduce((all, weight) => emitter.point('either', [all, weight]), first) };
}

/** A blur that takes in only what a mask let through: normalised convolution (H. Knutsson and C.-F. Westin 1993). Where nothing is near, the image stays as it is. */
function spread(emitter: Emitter, { value, weight }: Required<Read>, way: Spreading): Required<Read> {
  const further = emitter.blur(weight, way);
  if (emitter.contentOf(value) === 'numbers')
    return { value: emitter.point('shared', [emitter.blur(emitter.point('both', [value, weight]), way), further]), weight: further };
  return { value: emitter.point('evened', [value, emitter.blur(emitter.point('weighed', [value, weight]), way)]), weight: further };
}
