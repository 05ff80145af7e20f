import { z } from 'zod';
import { modeIds } from '../blend';
import { kindOf, kinds, paramsSchema, type KindId } from '../kinds';
import { level } from '../masks/curve';
import { gateSchema } from '../masks/gate';
import { maskSchema } from '../masks/mask';
import { allLayers, checkSize, emptyStack, MASTER_MAX, paintingsIn, wrongLink, type Layer, type Stack } from '../stack/schema';
import { fromOlder } from '../stack/older';

/** A layer of a look: as one of a version, but all that is not said has its default, and nobody has to think of ids. */
const channel = {
  name: z.string().trim().min(1, 'A layer’s name is not empty.').max(60, 'A name has at most 60 characters.').optional(),
  on: z.boolean().default(true),
  strength: z.number().min(0).max(1).default(1),
  blend: z.enum(modeIds).default('normal'),
  reads: z.enum(['below', 'photo']).default('below'),
  gate: z
    .strictObject({ own: gateSchema.shape.own.default(level), beneath: gateSchema.shape.beneath.default(level) })
    .default({ own: level, beneath: level }),
  masked: z.boolean().default(false),
  mask: maskSchema.prefault({}),
};

interface GivenChannel {
  readonly name?: string | undefined;
  readonly on: boolean;
  readonly strength: number;
  readonly blend: Layer['blend'];
  readonly reads: Layer['reads'];
  readonly gate: Layer['gate'];
  readonly masked: boolean;
  readonly mask: Layer['mask'];
}
type GivenLayer = GivenChannel &
  (
    | { readonly kind: 'group'; readonly layers: readonly GivenLayer[] }
    | { readonly kind: KindId; readonly params: Record<string, never>; readonly layers?: readonly GivenLayer[] }
  );

const kindLayers = kinds.map(({ id }) => {
  const params = paramsSchema(kindOf(id).params);
  const plain = { kind: z.literal(id), ...channel, params: params.prefault({}) };
  return z.strictObject(kindOf(id).holds ? { ...plain, layers: z.array(z.lazy(() => layer)).default([]) } : plain);
});
const layer: z.ZodType<GivenLayer> = z.lazy(() =>
  z.discriminatedUnion('kind', [z.strictObject({ kind: z.literal('group'), ...channel, layers: z.array(layer) }), ...kindLayers] as never),
);

/** The file of a look. `look` is the number of the format: readers refuse one that they do not know. */
export const lookSchema = z.strictObject({
  look: z.literal(3),
  name: z.string().trim().min(1, 'A look needs a name.').max(60, 'A name has at most 60 characters.'),
  note: z.string().max(500).optional(),
  master: z.number().min(0).max(MASTER_MAX).default(1),
  layers: z.array(layer),
});

/** A saved stack, with no photo in it. */
export interface Look {
  readonly name: string;
  readonly note?: string;
  readonly stack: Stack;
}

/** What is wrong with a look file, and where: `layers.2.params.amount`. */
export interface LookFault {
  readonly path: string;
  readonly message: string;
}

/** Reads the text of a look file. Gives the look, or all that is wrong with it. */
export function readLook(text: string): { look: Look; faults: [] } | { look: undefined; faults: LookFault[] } {
  let input: unknown;
  try {
    input = JSON.parse(text);
  } catch (error) {
    return refused([{ path: '', message: `It is not JSON: ${(error as Error).message}` }]);
  }
  try {
    checkSize(input);
  } catch (error) {
    return refused([{ path: 'layers', message: (error as Error).message }]);
  }
  const today = fromOlder(input, 'look');
  const result = lookSchema.safeParse(today);
  if (!result.success) return refused(result.error.issues.flatMap((issue) => faultsOf(issue, today)));
  const { name, note, master, layers } = result.data;
  let count = 0;
  const whole = ({ name: own, ...given }: GivenLayer): Layer => {
    const id = `layer-${++count}`;
    if (given.kind === 'group') return { ...given, id, name: own ?? 'Group', layers: given.layers.map(whole) };
    const { layers: held, ...rest } = given;
    return { ...rest, id, name: own ?? kindOf(given.kind).label, ...(held && { layers: held.map(whole) }) };
  };
  const all = layers.map(whole);
  const painted = allLayers(all).find((one) => paintingsIn(one).length > 0);
  if (painted) return refused([{ path: 'layers', message: `“${painted.name}” is painted: strokes belong to a photo, a look has none.` }]);
  const wrong = wrongLink(all);
  if (wrong) return refused([{ path: 'layers', message: wrong }]);
  return { look: { name, ...(note !== undefined && { note }), stack: { ...emptyStack, master, layers: all } }, faults: [] };
}

const refused = (faults: LookFault[]): { look: undefined; faults: LookFault[] } => ({ look: undefined, faults });

function faultsOf(issue: z.core.$ZodIssue, input: unknown): LookFault[] {
  const path = issue.path.map(String).join('.');
  if (issue.code === 'unrecognized_keys')
    return issue.keys.map((key) => ({ path: path ? `${path}.${key}` : key, message: 'There is no such field here.' }));
  const value = issue.path.reduce<unknown>((at, key) => (at as Record<PropertyKey, unknown> | undefined)?.[key], input);
  if (issue.path.at(-1) === 'kind') return [{ path, message: `There is no kind called “${String(value).slice(0, 40)}”. bexlen kinds lists them.` }];
  return [{ path, message: issue.message }];
}
