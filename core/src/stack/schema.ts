import { z } from 'zod';
import { modeIds } from '../blend';
import { BexlenError } from '../errors';
import { echoed, keptText, refusalOf } from '../refusals';
import { asItCame, geometrySchema, type Geometry } from '../geometry/geometry';
import { gateSchema, openGate, type Gate } from '../masks/gate';
import { emptyMask, linksOf, maskSchema, paintingsOf, type Mask } from '../masks/mask';
import { cornersOf, type Corners } from '../picture/placing';
import { placingOf, kindOf, isKind, kinds, paramsSchema, revisionSchema, type KindId, type ParamValue } from '../kinds';
import type { ModeId } from '../blend';
import { fromOlder } from './older';

export const MAX_LAYERS = 200;
export const MAX_NESTING = 8;
export const MASTER_MAX = 1.5;

interface Channel {
  readonly id: string;
  readonly name: string;
  readonly on: boolean;
  /** 0..1 */
  readonly strength: number;
  readonly blend: ModeId;
  readonly reads: 'below' | 'photo';
  /** It reads only what its mask lets through: blurs take nothing else in, and what they spread may lie beyond the mask. */
  readonly masked: boolean;
  readonly mask: Mask;
  readonly gate: Gate;
}

/** A layer that is wholly there, wherever it lands. */
export const plainChannel: Omit<Channel, 'id' | 'name'> = {
  on: true,
  strength: 1,
  blend: 'normal',
  reads: 'below',
  masked: false,
  mask: emptyMask,
  gate: openGate,
};

export interface KindLayer extends Channel {
  readonly kind: KindId;
  readonly params: Readonly<Record<string, ParamValue>>;
  /** The number of its kind's work that it was made with; 1, unless said. */
  readonly revision?: number;
  /** Of a kind that holds layers: those that change only what it brings. */
  readonly layers?: readonly Layer[];
}

export interface Group extends Channel {
  readonly kind: 'group';
  readonly layers: readonly Layer[];
}

export type Layer = KindLayer | Group;

/** What a version holds: geometry, layers, master. A reader refuses a schema number it does not know. */
export interface Stack {
  readonly schema: 3;
  readonly geometry: Geometry;
  /** 0..1.5: how much of the whole look is mixed in. */
  readonly master: number;
  /** First to last, in the order in which the light passes. */
  readonly layers: readonly Layer[];
}

const channel = {
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'An id is 1 to 40 small letters, digits or hyphens.'),
  name: keptText(z.string()).trim().min(1, 'A layer needs a name.').max(60, 'A name has at most 60 characters.'),
  on: z.boolean().default(plainChannel.on),
  strength: z.number().min(0).max(1).default(plainChannel.strength),
  blend: z.enum(modeIds).default(plainChannel.blend),
  reads: z.enum(['below', 'photo']).default(plainChannel.reads),
  masked: z.boolean().default(plainChannel.masked),
  mask: maskSchema.prefault({}),
  gate: gateSchema.default(plainChannel.gate),
};

const kindIds = kinds.map((kind) => kind.id) as [KindId, ...KindId[]];
const kindLayers = kindIds.map((id) => {
  const plain = {
    ...channel,
    kind: z.literal(id),
    params: paramsSchema(kindOf(id).params).prefault({} as never),
    revision: revisionSchema(kindOf(id)),
  };
  return z.strictObject(kindOf(id).holds ? { ...plain, layers: z.array(z.lazy(() => layerSchema)).default([]) } : plain);
});

export const layerSchema: z.ZodType<Layer> = z.lazy(() =>
  z.discriminatedUnion('kind', [z.strictObject({ ...channel, kind: z.literal('group'), layers: z.array(layerSchema) }), ...kindLayers] as never),
);

export const stackSchema: z.ZodType<Stack> = z.strictObject({
  schema: z.literal(3),
  geometry: geometrySchema.default(asItCame),
  master: z.number().min(0).max(MASTER_MAX),
  layers: z.array(layerSchema),
});

export const emptyStack: Stack = { schema: 3, geometry: asItCame, master: 1, layers: [] };

/**
 * A stack from outside, of this schema or an older one, checked. Size and depth are counted first, without recursion, so that no input can exhaust the checker.
 * Throws `bad-version` with the path of the first fault.
 */
export function readStack(input: unknown): Stack {
  checkSize(input);
  const today = fromOlder(input, 'schema');
  const result = stackSchema.safeParse(today);
  if (!result.success) throw badVersion(sentence(result.error, today));
  const ids = allIds(result.data.layers);
  const twice = ids.find((id, i) => ids.indexOf(id) !== i);
  if (twice) throw badVersion(`Two layers have the id ${twice}.`);
  const wrong = wrongLink(result.data.layers);
  if (wrong) throw badVersion(wrong);
  return result.data;
}

/** All layers, with those in groups. */
export const allLayers = (layers: readonly Layer[]): Layer[] => layers.flatMap((layer) => [layer, ...allLayers(layer.layers ?? [])]);

/** What is wrong with masks that are the same as another layer's: one names a layer that is not there, or they go round in a circle. */
export function wrongLink(layers: readonly Layer[]): string | undefined {
  const byId = new Map(allLayers(layers).map((layer) => [layer.id, layer]));
  for (const { name, mask } of byId.values()) {
    const lost = linksOf(mask).find((id) => !byId.has(id));
    if (lost !== undefined) return `The mask of “${echoed(name)}” is the same as that of a layer ${lost}, which is not there.`;
  }
  const clear = new Set<string>();
  const circle = (id: string, above: ReadonlySet<string>): string | undefined => {
    if (above.has(id)) return id;
    if (clear.has(id)) return undefined;
    const found = linksOf(byId.get(id)?.mask ?? emptyMask)
      .map((next) => circle(next, new Set([...above, id])))
      .find((it) => it !== undefined);
    if (found === undefined) clear.add(id);
    return found;
  };
  const found = [...byId.keys()].map((id) => circle(id, new Set())).find((id) => id !== undefined);
  const layer = found === undefined ? undefined : byId.get(found);
  return layer && `The mask of “${echoed(layer.name)}” would be the same as itself, in a circle.`;
}

/** Paintings that a layer names, by their last strokes: those of its mask, and those of its kind. */
export function paintingsIn(layer: Layer): string[] {
  if (layer.kind === 'group') return paintingsOf(layer.mask);
  const own = Object.entries(kindOf(layer.kind).params).flatMap(([name, { type }]) => (type === 'strokes' ? [layer.params[name] as string] : []));
  return [...paintingsOf(layer.mask), ...own.filter((name) => name !== '')];
}

/** Photos that pictures among some layers name, each once; a picture for which none was chosen has the name of nothing. */
export const picturesOf = (layers: readonly Layer[]): string[] => [...new Set(allLayers(layers).flatMap((layer) => pictureIn(layer) ?? []))];

/** Photos that live layers lay over, each with the largest size that one needs, as a share of the photo's long edge, and with the layer that needs it. */
export function picturesNeeded({ layers }: Pick<Stack, 'layers'>): Map<string, { readonly layer: string; readonly share: number }> {
  const needed = new Map<string, { layer: string; share: number }>();
  const walk = (all: readonly Layer[]): void =>
    all
      .filter(({ on, strength }) => on && strength > 0)
      .forEach((layer) => {
        const name = pictureIn(layer);
        const share = name === undefined || layer.kind === 'group' ? 0 : longestSide(cornersOf(placingOf(layer.params as never)));
        if (name !== undefined) needed.set(name, { layer: layer.name, share: Math.max(share, needed.get(name)?.share ?? 0) });
        walk(layer.layers ?? []);
      });
  walk(layers);
  return needed;
}
/** Of a picture of any shape: its long side is at least as long as this. */
function longestSide(corners: Corners): number {
  return Math.max(...corners.map(([x, y], i) => Math.hypot(x - (corners[(i + 1) % 4]?.[0] ?? 0), y - (corners[(i + 1) % 4]?.[1] ?? 0))));
}

/** The photo that a layer lays over what is beneath; undefined for all that lay none. */
export function pictureIn(layer: Layer): string | undefined {
  if (layer.kind === 'group') return undefined;
  const [name] = Object.entries(kindOf(layer.kind).params).flatMap(([id, { type }]) => (type === 'photo' ? [layer.params[id] as string] : []));
  return name;
}

const badVersion = (message: string): BexlenError =>
  new BexlenError('bad-version', message, 'Nothing was changed. Open the version again, or send one that fits its schema.');

function sentence(error: z.ZodError, input: unknown): string {
  const issue = error.issues[0];
  const at = issue?.path.map(String).join('.') ?? '';
  const layer = issue && at.endsWith('.kind') ? issue.path.slice(0, -1).reduce<unknown>(child, input) : undefined;
  const kind = layer === undefined ? undefined : child(layer, 'kind');
  if (kind !== undefined && !isKind(String(kind))) return `${at}: there is no kind called “${echoed(kind, 40)}”.`;
  return refusalOf(error, 'The version');
}

const child = (value: unknown, key: PropertyKey): unknown =>
  typeof value === 'object' && value !== null ? (value as Record<PropertyKey, unknown>)[key] : undefined;

/** Counts layers and nesting without recursion. Throws `bad-version`. */
export function checkSize(input: unknown): void {
  let count = 0;
  let row: unknown[] = [input];
  for (let depth = 0; row.length > 0; depth++) {
    if (depth > MAX_NESTING + 1) throw badVersion(`Groups are nested more than ${MAX_NESTING} deep.`);
    row = row.flatMap((item) => {
      const layers = child(item, 'layers');
      return Array.isArray(layers) ? (layers as unknown[]) : [];
    });
    count += row.length;
    if (count > MAX_LAYERS) throw badVersion(`A version takes at most ${MAX_LAYERS} layers; this one has more.`);
  }
}

const allIds = (layers: readonly Layer[]): string[] => allLayers(layers).map(({ id }) => id);
