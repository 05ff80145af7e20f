import { z } from 'zod';
import { choiceType, type ChoiceParam } from './choice';
import { numberType, type NumberParam } from './number';
import { asItIs, type Chance, type Common, type ParamType } from './type';

/** What is in focus: a band, an oval or a pin on the photo, of which a layer may have several. */
export interface Focus {
  readonly id: string;
  readonly shape: string;
  readonly params: Readonly<Record<string, number | string>>;
}

/** What a shape of focus is told by. */
export interface FocusItem {
  readonly id: string;
  readonly params: Readonly<Record<string, NumberParam | ChoiceParam>>;
  /** It says something only beside others of its sort. */
  readonly many?: true;
}

/** Bands, ovals and pins. */
export interface FocusParam extends Common {
  readonly type: 'focus';
  readonly most: number;
  readonly shapes: readonly FocusItem[];
  readonly at: readonly Focus[];
}

const itemSchema = ({ id, params }: FocusItem): z.ZodType =>
  z.strictObject({
    id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'An id is 1 to 40 small letters, digits or hyphens.'),
    shape: z.literal(id),
    params: z
      .strictObject(
        Object.fromEntries(
          Object.entries(params).map(([name, param]) => [
            name,
            param.type === 'number' ? numberType.schema(param).default(param.at) : choiceType.schema(param).default(param.at),
          ]),
        ),
      )
      .prefault({}),
  });

/** Anything but its default now and then. */
const randomly = (param: NumberParam | ChoiceParam, chance: Chance): number | string => {
  if (chance.is(0.2)) return param.at;
  return param.type === 'number' ? numberType.random(param, chance) : choiceType.random(param, chance);
};

function randomItem({ id, params }: FocusItem, i: number, chance: Chance): Focus {
  const own = Object.entries(params).map(([name, param]) => [name, randomly(param, chance)]);
  const [x, y] = [chance.from(-0.4, 0.4), chance.from(-0.4, 0.4)];
  return { id: `${id}-${i}`, shape: id, params: { ...Object.fromEntries(own), x, y } };
}

export const focusType: ParamType<FocusParam> = {
  ...asItIs,
  type: 'focus',
  placed: true,
  schema: ({ label, most, shapes }) =>
    (z.array(z.discriminatedUnion('shape', shapes.map(itemSchema) as never)) as unknown as z.ZodArray<z.ZodType<Focus>>)
      .max(most, `${label}: at most ${most}.`)
      .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, `${label}: two have the same id.`),
  range: () => 'bands, ovals and pins',
  stored: () => '[{ id, shape, params }]',
  change: ({ label }) => label.toLowerCase(),
  random: ({ shapes }, chance) =>
    shapes.flatMap((shape) => Array.from({ length: chance.below(shape.many ? 4 : 2) }, (_, i) => randomItem(shape, i, chance))),
};
