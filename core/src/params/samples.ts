import { z } from 'zod';
import { asItIs, type Common, type ParamType } from './type';

/** A tapped place: where it is, from the photo's middle in shares of the long edge, and its OKLab colour, the mean of its surroundings. */
const sampleSchema = z.strictObject({
  x: z.number().min(-1.5).max(1.5),
  y: z.number().min(-1.5).max(1.5),
  l: z.number().min(-1).max(2),
  a: z.number().min(-1).max(1),
  b: z.number().min(-1).max(1),
});
export type Sample = z.infer<typeof sampleSchema>;

/** Places of the photo that were tapped, with their colours. */
export interface SamplesParam extends Common {
  readonly type: 'samples';
  readonly most: number;
  readonly at: readonly Sample[];
}

export const samplesType: ParamType<SamplesParam> = {
  ...asItIs,
  type: 'samples',
  placed: true,
  schema: ({ label, most }) => z.array(sampleSchema).max(most, `${label}: at most ${most}.`),
  range: () => 'tapped places',
  stored: () => '[{ x, y, l, a, b }]',
  change: ({ label }) => label.toLowerCase(),
  // A place and a colour such as pictures have.
  random: ({ most }, chance) =>
    Array.from({ length: 1 + chance.below(most) }, () => ({
      x: chance.from(-0.5, 0.5),
      y: chance.from(-0.35, 0.35),
      l: chance.from(0.2, 0.9),
      a: chance.from(-0.1, 0.1),
      b: chance.from(-0.1, 0.1),
    })),
};

export const samples = (label: string, most = 8): SamplesParam => ({ type: 'samples', label, most, at: [] });
