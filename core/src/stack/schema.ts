import { z } from 'zod';
import { modeIds, type ModeId } from '../blend';
import { developmentSchema, type Development } from '../kinds/development';
import { asItCame, geometrySchema, type Geometry } from '../geometry/geometry';
import { kindOf, kinds, revisionSchema, type KindId } from '../kinds';
import { gateSchema, openGate, type Gate } from '../masks/gate';
import { emptyMask, maskSchema, type Mask } from '../masks/mask';
import { defaults, paramsSchema, paramsShape, percent, type AnyValues, type Params } from '../params';
import { keptText } from '../refusals';

export const MAX_LAYERS = 200;
export const MAX_NESTING = 8;

/** What of any layer is moved by a fader. */
export const channelParams = { strength: percent({ label: 'Strength', at: 1 }) } satisfies Params;
/** What of the whole stack is. */
export const masterParams = { master: percent({ label: 'Master', max: 1.5, at: 1 }) } satisfies Params;

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
  ...defaults(channelParams),
  blend: 'normal',
  reads: 'below',
  masked: false,
  mask: emptyMask,
  gate: openGate,
};

export interface KindLayer extends Channel {
  readonly kind: KindId;
  readonly params: AnyValues;
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
  /** Of a raw file; as shot, unless said. */
  readonly development?: Development | undefined;
  /** 0..1.5: how much of the whole look is mixed in. */
  readonly master: number;
  /** First to last, in the order in which the light passes. */
  readonly layers: readonly Layer[];
}

const layerId = z.string().regex(/^[a-z0-9-]{1,40}$/, 'An id is 1 to 40 small letters, digits or hyphens.');
const layerName = keptText(z.string()).trim().min(1, 'A layer needs a name.').max(60, 'A name has at most 60 characters.');
const channel = {
  on: z.boolean().default(plainChannel.on),
  ...paramsShape(channelParams),
  blend: z.enum(modeIds).default(plainChannel.blend),
  reads: z.enum(['below', 'photo']).default(plainChannel.reads),
  masked: z.boolean().default(plainChannel.masked),
  mask: maskSchema.prefault({}),
  gate: gateSchema.default(plainChannel.gate),
};

/** The schema of layers, in groups too, that are named by some fields of their own. */
function layersNamedBy<L>(naming: z.ZodRawShape): z.ZodType<L> {
  const own = { ...naming, ...channel };
  const kindLayers = kinds.map(({ id }) => {
    const { params, holds, ...kind } = kindOf(id);
    const plain = { kind: z.literal(id), ...own, params: paramsSchema(params).prefault({} as never), revision: revisionSchema(kind) };
    return z.strictObject(holds ? { ...plain, layers: z.array(z.lazy(() => schema)).default([]) } : plain);
  });
  const schema: z.ZodType<L> = z.lazy(() =>
    z.discriminatedUnion('kind', [z.strictObject({ kind: z.literal('group'), ...own, layers: z.array(schema) }), ...kindLayers] as never),
  );
  return schema;
}

/** A layer of a version. */
export const layerSchema = layersNamedBy<Layer>({ id: layerId, name: layerName });

/** A layer as a look has it: nobody has to think of ids, and one without a name is called after its kind. */
export type NamelessLayer = Omit<Channel, 'id' | 'name'> & {
  readonly name?: string | undefined;
} & (
    | { readonly kind: 'group'; readonly layers: readonly NamelessLayer[] }
    | (Pick<KindLayer, 'kind' | 'params'> & { readonly revision?: number | undefined; readonly layers?: readonly NamelessLayer[] })
  );
export const namelessLayerSchema = layersNamedBy<NamelessLayer>({ name: layerName.optional() });

export const stackSchema: z.ZodType<Stack> = z.strictObject({
  schema: z.literal(3),
  geometry: geometrySchema.default(asItCame),
  development: developmentSchema.optional(),
  master: paramsShape(masterParams).master.unwrap(),
  layers: z.array(layerSchema),
});

export const emptyStack: Stack = { schema: 3, geometry: asItCame, ...defaults(masterParams), layers: [] };

/** A stack without its layers: the photo as the first of them reads it. */
export const beforeLayers = ({ geometry, development }: Stack): Stack => ({ ...emptyStack, geometry, ...(development && { development }) });

/** All layers, with those in groups. */
export const allLayers = (layers: readonly Layer[]): Layer[] => layers.flatMap((layer) => [layer, ...allLayers(layer.layers ?? [])]);
