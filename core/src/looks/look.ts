import { z } from 'zod';
import { modeIds } from '../blend';
import { echoed, keptText } from '../refusals';
import { cubesIn, MOST_CUBE_TEXT, readCube } from '../formats/cube';
import { asItCame, geometrySchema } from '../geometry/geometry';
import { MOST_STROKES, nameOf, paintedSchema, type Painted } from '../painting/stroke';
import { defaults, kindOf, kinds, paramsSchema, revisionSchema, type KindId } from '../kinds';
import { level } from '../masks/curve';
import { gateSchema } from '../masks/gate';
import { emptyMask, maskSchema, newPart } from '../masks/mask';
import { partKindOf } from '../masks/parts';
import {
  allLayers,
  checkSize,
  emptyStack,
  MASTER_MAX,
  paintingsIn,
  plainChannel,
  wrongLink,
  type KindLayer,
  type Layer,
  type Stack,
} from '../stack/schema';
import { fromOlder } from '../stack/older';
import { fitRuleSchema, type FitRule } from './fit';

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
    | {
        readonly kind: KindId;
        readonly params: Record<string, never>;
        readonly revision?: number | undefined;
        readonly layers?: readonly GivenLayer[];
      }
  );

const kindLayers = kinds.map(({ id }) => {
  const params = paramsSchema(kindOf(id).params);
  const plain = { kind: z.literal(id), ...channel, params: params.prefault({}), revision: revisionSchema(kindOf(id)) };
  return z.strictObject(kindOf(id).holds ? { ...plain, layers: z.array(z.lazy(() => layer)).default([]) } : plain);
});
const layer: z.ZodType<GivenLayer> = z.lazy(() =>
  z.discriminatedUnion('kind', [z.strictObject({ kind: z.literal('group'), ...channel, layers: z.array(layer) }), ...kindLayers] as never),
);

/** The longest look file that is read, in bytes. */
export const LONGEST_LOOK = 20e6;
const text = (): z.ZodString => keptText(z.string());
export const lookName = text().trim().min(1, 'A look needs a name.').max(60, 'A name has at most 60 characters.');
export const lookFolder = text().trim().min(1, 'A folder needs a name.').max(60, 'A folder has at most 60 characters.');
export const lookNote = text().max(500, 'A note has at most 500 characters.');

/** The file of a look. `look` is the number of the format: readers refuse one that they do not know. */
export const lookSchema = z.strictObject({
  look: z.literal(3),
  name: lookName,
  folder: lookFolder.optional(),
  note: lookNote.optional(),
  /** What it asks of a photo. */
  fit: z.array(fitRuleSchema).max(8, 'At most 8 rules.').default([]),
  master: z.number().min(0).max(MASTER_MAX).default(1),
  /** How the picture is cropped and turned, if that is part of the look. */
  geometry: geometrySchema.optional(),
  layers: z.array(layer),
  /** Strokes that its masks name, each after the one that it follows. */
  strokes: z.array(paintedSchema).max(MOST_STROKES).default([]),
  /** Texts of the colour tables that its layers name. */
  cubes: z.record(z.string().max(200), z.string().max(MOST_CUBE_TEXT)).default({}),
});

/** A saved stack, with no photo in it. */
export interface Look {
  readonly name: string;
  readonly folder?: string;
  readonly note?: string;
  readonly fit: readonly FitRule[];
  /** Its geometry is that of the look, where one is part of it. */
  readonly stack: Stack;
  readonly geometry: boolean;
  readonly strokes: readonly Painted[];
  readonly cubes: Readonly<Record<string, string>>;
}

/** Where a look stands that names no folder. */
export const folderOfLook = ({ folder }: { readonly folder?: string | undefined }): string => folder ?? 'Mine';

/** What is wrong with a look file, and where: `layers.2.params.amount`. */
export interface LookFault {
  readonly path: string;
  readonly message: string;
}

/** Reads the text of a look file. Gives the look, or all that is wrong with it. */
export function readLook(text: string): { look: Look; faults: [] } | { look: undefined; faults: LookFault[] } {
  let input: unknown;
  try {
    // A byte order mark, as some editors write one, is no part of JSON (RFC 8259, 8.1).
    input = JSON.parse(text.replace(/^\ufeff/, ''));
  } catch (error) {
    return refused([{ path: '', message: `It is not JSON: ${(error as Error).message}` }]);
  }
  return lookOf(input);
}

/** Reads a look that is JSON already. */
export function lookOf(input: unknown): { look: Look; faults: [] } | { look: undefined; faults: LookFault[] } {
  try {
    checkSize(input);
  } catch (error) {
    return refused([{ path: 'layers', message: (error as Error).message }]);
  }
  const today = fromOlder(input, 'look');
  const result = lookSchema.safeParse(today);
  if (!result.success) return refused(result.error.issues.flatMap((issue) => faultsOf(issue, today)));
  const { name, folder, note, fit, master, geometry, layers, strokes, cubes } = result.data;
  let count = 0;
  const whole = ({ name: own, ...given }: GivenLayer): Layer => {
    const id = `layer-${++count}`;
    if (given.kind === 'group') return { ...given, id, name: own ?? 'Group', layers: given.layers.map(whole) };
    const { layers: held, ...rest } = given;
    const { revision, ...said } = rest;
    return {
      ...said,
      id,
      name: own ?? kindOf(given.kind).label,
      ...(revision !== undefined && { revision }),
      ...(held && { layers: held.map(whole) }),
    };
  };
  const all = layers.map(whole);
  const faults = [...unpainted(all, strokes), ...brokenCubes(all, cubes)];
  const wrong = wrongLink(all);
  if (wrong) faults.push({ path: 'layers', message: wrong });
  if (faults.length > 0) return refused(faults);
  const stack = { ...emptyStack, master, layers: all, geometry: geometry ?? asItCame };
  return {
    look: {
      name,
      ...(folder !== undefined && { folder }),
      ...(note !== undefined && { note }),
      fit,
      stack,
      geometry: geometry !== undefined,
      strokes,
      cubes,
    },
    faults: [],
  };
}

/** Layers that are painted with strokes which the file does not hold. */
function unpainted(layers: readonly Layer[], strokes: readonly Painted[]): LookFault[] {
  const after = new Map(strokes.map((painted) => [nameOf(painted), painted.after]));
  const whole = (last: string): boolean => {
    let name = last;
    for (let left = strokes.length; name !== '' && left >= 0; left--) {
      const before = after.get(name);
      if (before === undefined) return false;
      name = before;
    }
    return name === '';
  };
  return allLayers(layers)
    .filter((one) => !paintingsIn(one).every(whole))
    .map((one) => ({ path: 'strokes', message: `“${echoed(one.name)}” is painted with strokes that are not in the file.` }));
}

/** Colour tables in the file that no layer names or that cannot be read. One that a layer names and that is not in the file is looked for elsewhere. */
function brokenCubes(layers: readonly Layer[], cubes: Readonly<Record<string, string>>): LookFault[] {
  const named = new Set(cubesIn(layers));
  return Object.entries(cubes).flatMap(([name, text]) => {
    const path = `cubes.${echoed(name)}`;
    if (!named.has(name)) return [{ path, message: 'No layer names this colour table.' }];
    try {
      readCube(text);
      return [];
    } catch (error) {
      return [{ path, message: (error as Error).message }];
    }
  });
}

/** A look as a file: as short as it can be said, to be read and changed by people. */
export function lookFile({ name, folder, note, fit, stack, geometry, strokes, cubes }: Look): unknown {
  const ids = new Map(allLayers(stack.layers).map(({ id }, i) => [id, `layer-${i + 1}`]));
  const mask = ({ parts, ...whole }: Layer['mask']): unknown => ({
    ...unlike(whole, emptyMask),
    ...(parts.length > 0 && {
      parts: parts.map(({ id, part, params, ...own }) => {
        const { id: _id, part: _part, params: _params, ...at } = newPart(part, id);
        const linked = part === 'same-as' ? { ...params, layer: ids.get(String(params['layer'])) ?? '' } : params;
        return { id, part, ...unlike(own, at), ...some('params', unlike(linked, defaults(partKindOf(part).params))) };
      }),
    }),
  });
  const write = ({ id: _id, kind, name: own, mask: where, ...rest }: Layer): unknown => {
    const { params, layers, ...channel } = rest as Omit<KindLayer, 'id' | 'kind' | 'name' | 'mask'>;
    const usual = kind === 'group' ? 'Group' : kindOf(kind).label;
    return {
      kind,
      ...(own !== usual && { name: own }),
      ...unlike(channel, plainChannel),
      ...some('mask', mask(where) as object),
      ...(kind !== 'group' && some('params', unlike(params, defaults(kindOf(kind).params)))),
      ...(layers && (kind === 'group' || layers.length > 0) && { layers: layers.map(write) }),
    };
  };
  return {
    look: 3,
    name,
    ...(folder !== undefined && { folder }),
    ...(note !== undefined && { note }),
    ...(fit.length > 0 && { fit }),
    ...(stack.master !== 1 && { master: stack.master }),
    ...(geometry && { geometry: stack.geometry }),
    layers: stack.layers.map(write),
    ...(strokes.length > 0 && { strokes }),
    ...some('cubes', cubes),
  };
}

/** Fields that differ from what they are unless said. */
const unlike = (given: object, usual: object): Record<string, unknown> =>
  Object.fromEntries(Object.entries(given).filter(([key, value]) => JSON.stringify(value) !== JSON.stringify(usual[key as never])));
const some = (key: string, fields: object): object => (Object.keys(fields).length > 0 ? { [key]: fields } : {});

const refused = (faults: LookFault[]): { look: undefined; faults: LookFault[] } => ({ look: undefined, faults });

function faultsOf(issue: z.core.$ZodIssue, input: unknown): LookFault[] {
  const path = issue.path.map(String).join('.');
  if (issue.code === 'unrecognized_keys')
    return issue.keys.map((key) => ({ path: path ? `${path}.${key}` : key, message: 'There is no such field here.' }));
  const value = issue.path.reduce<unknown>((at, key) => (at as Record<PropertyKey, unknown> | undefined)?.[key], input);
  if (issue.path.at(-1) === 'kind') return [{ path, message: `There is no kind called “${String(value).slice(0, 40)}”. bexlen kinds lists them.` }];
  return [{ path, message: issue.message }];
}
