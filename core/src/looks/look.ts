import { z } from 'zod';
import { MOST_CUBE_TEXT, readCube } from '../formats/cube';
import { asItCame, geometrySchema } from '../geometry/geometry';
import { kindOf } from '../kinds';
import { paramsShape } from '../params';
import { MOST_STROKES, nameOf, paintedSchema, type Painted } from '../resources';
import { echoed, keptText } from '../refusals';
import { compactLayer, some } from '../stack/compact';
import { fromOlder } from '../stack/older';
import { checkSize, wrongLink } from '../stack/read';
import { namedBy, namedIn, renamed } from '../stack/references';
import { allLayers, emptyStack, masterParams, namelessLayerSchema, type Layer, type NamelessLayer, type Stack } from '../stack/schema';
import { standSchema, type Stand } from './stand';
import { fitRuleSchema, type FitRule } from './fit';

/** The longest look file that is read, in bytes. */
export const LONGEST_LOOK = 20e6;
const text = (): z.ZodString => keptText(z.string());
export const lookName = text().trim().min(1, 'A look needs a name.').max(60, 'A name has at most 60 characters.');
export const lookFolder = text().trim().min(1, 'A folder needs a name.').max(60, 'A folder has at most 60 characters.');
export const lookNote = text().max(500, 'A note has at most 500 characters.');
/** Sentences of a look: why each of its layers is there. */
export const lookSays = z.array(text().min(1).max(240, 'A sentence has at most 240 characters.')).max(60);

/** The file of a look. `look` is the number of the format: readers refuse one that they do not know. */
export const lookSchema = z.strictObject({
  look: z.literal(3),
  name: lookName,
  folder: lookFolder.optional(),
  note: lookNote.optional(),
  /** What it asks of a photo. */
  fit: z.array(fitRuleSchema).max(8, 'At most 8 rules.').default([]),
  /** Where the photo stood that it was made on. */
  made: standSchema.optional(),
  /** Why each of its layers is there, a sentence for each in their order, groups as one. */
  says: lookSays.optional(),
  ...paramsShape(masterParams),
  /** How the picture is cropped and turned, if that is part of the look. */
  geometry: geometrySchema.optional(),
  layers: z.array(namelessLayerSchema),
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
  /** Where the photo stood that it was made on, if that is known. */
  readonly made?: Stand;
  /** Why each of its layers is there. */
  readonly says?: readonly string[];
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
  const { name, folder, note, fit, made, says, master, geometry, layers, strokes, cubes } = result.data;
  const all = withIds(layers);
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
      ...(made && { made }),
      ...(says && { says }),
      stack,
      geometry: geometry !== undefined,
      strokes,
      cubes,
    },
    faults: [],
  };
}

/** Layers of a look as a version has them: numbered through, and called after their kinds unless they have names. */
function withIds(layers: readonly NamelessLayer[]): Layer[] {
  let count = 0;
  const whole = ({ name, layers: held, ...given }: NamelessLayer): Layer => {
    const id = `layer-${++count}`;
    return { ...given, id, name: name ?? usualName(given.kind), ...(held && { layers: held.map(whole) }) } as Layer;
  };
  return layers.map(whole);
}
const usualName = (kind: Layer['kind']): string => (kind === 'group' ? 'Group' : kindOf(kind).label);

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
    .filter((one) => !namedBy(one, 'painting').every(whole))
    .map((one) => ({ path: 'strokes', message: `“${echoed(one.name)}” is painted with strokes that are not in the file.` }));
}

/** Colour tables in the file that no layer names or that cannot be read. One that a layer names and that is not in the file is looked for elsewhere. */
function brokenCubes(layers: readonly Layer[], cubes: Readonly<Record<string, string>>): LookFault[] {
  const named = new Set(namedIn(layers, 'file'));
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
export function lookFile({ name, folder, note, fit, made, says, stack, geometry, strokes, cubes }: Look): unknown {
  const ids = new Map(allLayers(stack.layers).map(({ id }, i) => [id, `layer-${i + 1}`]));
  const numbered = stack.layers.map((layer) => renamed(layer, (to) => (to.to === 'layer' ? (ids.get(to.name) ?? '') : to.name)));
  return {
    look: 3,
    name,
    ...(folder !== undefined && { folder }),
    ...(note !== undefined && { note }),
    ...(fit.length > 0 && { fit }),
    ...(made && { made }),
    ...(says && { says }),
    ...(stack.master !== 1 && { master: stack.master }),
    ...(geometry && { geometry: stack.geometry }),
    layers: numbered.map((layer) => compactLayer(layer, (it) => (it.name === usualName(it.kind) ? {} : { name: it.name }))),
    ...(strokes.length > 0 && { strokes }),
    ...some('cubes', cubes),
  };
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
