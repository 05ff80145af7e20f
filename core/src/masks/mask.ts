import { z } from 'zod';
import { defaults, length, paramsSchema, paramsShape, percent, type Params, type ParamValue } from '../params';
import { isPart, partKindOf, partKinds, type PartId } from './parts';

export const MOST_PARTS = 64;

/** How a part joins what stands before it: 1 - (1 - a)(1 - b), a (1 - b), or a b. */
export const joins = [
  { id: 'add', label: 'Add', sign: '+' },
  { id: 'take', label: 'Take away', sign: '−' },
  { id: 'within', label: 'Keep within', sign: '∩' },
] as const;
export type Join = (typeof joins)[number]['id'];

export interface Part {
  readonly id: string;
  readonly part: PartId;
  readonly on: boolean;
  readonly join: Join;
  readonly inverted: boolean;
  /** 0..1: how much of it is joined. */
  readonly amount: number;
  /** 0..1: how far it is led along the photo's own edges. */
  readonly keep: number;
  /** What it looks at, if it looks at the picture. */
  readonly reads: 'photo' | 'below';
  readonly params: Readonly<Record<string, ParamValue>>;
}

/** Where a layer lands. Without a live part, everywhere. */
export interface Mask {
  readonly on: boolean;
  readonly parts: readonly Part[];
  /** Standard deviation of a Gaussian over the whole mask, a fraction of the long edge. */
  readonly soften: number;
  /** 0..1: how much of it takes part; at 0 it lets all through. */
  readonly density: number;
  readonly inverted: boolean;
}

/** What of a mask as a whole is moved by faders. */
export const maskParams = {
  soften: length({ label: 'Softening', max: 0.2, middle: 0.02 }),
  density: percent({ label: 'Density', at: 1 }),
} satisfies Params;
export const emptyMask: Mask = { on: true, parts: [], ...defaults(maskParams), inverted: false };

/** What of a part of any sort is moved by faders: how it joins the others. */
export const joinParams = {
  amount: percent({ label: 'Amount', at: 1 }),
  keep: percent({ label: 'Keep to edges' }),
} satisfies Params;

/** What a part is unless it says otherwise. */
export const plainPart: Omit<Part, 'id' | 'part' | 'params'> = { on: true, join: 'add', inverted: false, ...defaults(joinParams), reads: 'photo' };

const common = {
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'An id is 1 to 40 small letters, digits or hyphens.'),
  on: z.boolean().default(plainPart.on),
  join: z.enum(joins.map(({ id }) => id)).default(plainPart.join),
  inverted: z.boolean().default(plainPart.inverted),
  ...paramsShape(joinParams),
  reads: z.enum(['photo', 'below']).default(plainPart.reads),
};
const ids = partKinds.map(({ id }) => id) as [PartId, ...PartId[]];
const parts = ids.map((id) => z.strictObject({ ...common, part: z.literal(id), params: paramsSchema(partKindOf(id).params).prefault({}) }));

const partSchema = z.discriminatedUnion('part', parts as never, {
  error: ({ input }) =>
    typeof input === 'object' && input !== null && 'part' in input && !isPart(String(input.part)) ? 'There is no part of that name.' : undefined,
}) as unknown as z.ZodType<Part>;

/** A mask from a version or a look; what is missing has its default. */
export const maskSchema: z.ZodType<Mask> = z.strictObject({
  on: z.boolean().default(emptyMask.on),
  parts: z
    .array(z.unknown())
    .max(MOST_PARTS, `A mask takes at most ${MOST_PARTS} parts.`)
    .pipe(z.array(partSchema))
    .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, 'Two parts of a mask have the same id.')
    .default([]),
  ...paramsShape(maskParams),
  inverted: z.boolean().default(emptyMask.inverted),
});

/** A part of a kind at its defaults. */
export const newPart = (part: PartId, id: string, join: Join = plainPart.join): Part => ({
  ...plainPart,
  id,
  part,
  join,
  params: defaults(partKindOf(part).params),
});

/** Whether a mask leaves anything out at all. */
export const isEffective = ({ on, parts: all, density, inverted }: Mask): boolean => on && density > 0 && (all.some((part) => part.on) || inverted);
