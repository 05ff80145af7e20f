import { z } from 'zod';
import type { FilmPlace } from '../geometry/shape';
import { curveSchema, type Curve } from '../masks/curve';
import { keptText } from '../refusals';
import type { Facts } from '../measure/facts';
import type { Spot } from '../measure/spot';
import type { Bytes } from '../measure/bytes';
import type { Image } from '../work/image';

export type Family = 'tone' | 'colour' | 'film' | 'light' | 'focus' | 'finish' | 'picture' | 'hand';

/** Families in the order in which the rack shows them. */
export const families: readonly { readonly id: Family; readonly label: string }[] = [
  { id: 'tone', label: 'Tone' },
  { id: 'colour', label: 'Colour' },
  { id: 'film', label: 'Film' },
  { id: 'light', label: 'Light' },
  { id: 'focus', label: 'Focus' },
  { id: 'finish', label: 'Finish' },
  { id: 'picture', label: 'Picture' },
  { id: 'hand', label: 'Hand' },
];

/**
 * How a figure is shown. Stored values are always plain: a `percent` of 0.2 shows as 20 %, a `level` of 1 as 255, a `length` is a
 * fraction of the long edge and shows in pixels of the full-size photo.
 */
export type Unit = 'percent' | 'level' | 'length' | 'plain' | 'stops' | 'degrees' | 'micrometres';

export interface NumberParam {
  readonly type: 'number';
  readonly label: string;
  readonly unit: Unit;
  readonly min: number;
  readonly max: number;
  /** One step of a key. */
  readonly step: number;
  /** The default. */
  readonly at: number;
  /** Where the middle of the fader stands; without it, halfway. */
  readonly middle?: number;
  /** The leaf of the controls on which it stands, where a kind has several. */
  readonly section?: string;
  /** An OKLab hue in degrees that its fader is marked with. */
  readonly hue?: number;
  /** It only chooses among equals: another one can be had by a tap. */
  readonly seed?: true;
  /** The param that says how much of this hue: the two are shown as a wheel. */
  readonly amount?: string;
}

/** One of a few named ways. */
export interface ChoiceParam {
  readonly type: 'choice';
  readonly label: string;
  readonly options: readonly { readonly id: string; readonly label: string }[];
  readonly at: string;
  /** All of its ways are shown, however many they are; without it more than a few are left to the variants. */
  readonly listed?: true;
  readonly section?: string;
}

/** A tone curve. */
export interface CurveParam {
  readonly type: 'curve';
  readonly label: string;
  readonly at: Curve;
  readonly section?: string;
}

/** A file that is kept beside versions and named by them. */
export interface FileParam {
  readonly type: 'file';
  readonly label: string;
  /** The ending of the files that can be chosen. */
  readonly ending: string;
  /** No file. */
  readonly at: '';
  readonly section?: string;
}

/** Places of the photo that were tapped, with their colours. */
export interface SamplesParam {
  readonly type: 'samples';
  readonly label: string;
  readonly most: number;
  readonly at: readonly Sample[];
  readonly section?: string;
}

/** A painting, named by its last stroke; strokes are kept beside versions. */
export interface StrokesParam {
  readonly type: 'strokes';
  readonly label: string;
  /** Nothing is painted. */
  readonly at: '';
  /** Strokes add up to a map of light in stops, instead of covering. */
  readonly light?: true;
  readonly section?: string;
}

/** Another photo, by its name on the shelf or beside a look. */
export interface PhotoParam {
  readonly type: 'photo';
  readonly label: string;
  /** None yet. */
  readonly at: '';
  readonly section?: string;
}

/** Another layer, by its id. */
export interface LayerParam {
  readonly type: 'layer';
  readonly label: string;
  /** None. */
  readonly at: '';
  readonly section?: string;
}

/** What is in focus: a band, an oval or a pin on the photo, of which a layer may have several. */
export interface Focus {
  readonly id: string;
  readonly shape: string;
  readonly params: Readonly<Record<string, number | string>>;
}

/** Bands, ovals and pins. */
export interface FocusParam {
  readonly type: 'focus';
  readonly label: string;
  readonly most: number;
  readonly item: z.ZodType<Focus>;
  readonly at: readonly Focus[];
  readonly section?: string;
}

/** A tapped place: where it is, from the photo's middle in shares of the long edge, and its OKLab colour, the mean of its surroundings. */
const sampleSchema = z.strictObject({
  x: z.number().min(-1.5).max(1.5),
  y: z.number().min(-1.5).max(1.5),
  l: z.number().min(-1).max(2),
  a: z.number().min(-1).max(1),
  b: z.number().min(-1).max(1),
});
export type Sample = z.infer<typeof sampleSchema>;

export type Param = NumberParam | ChoiceParam | CurveParam | FileParam | SamplesParam | StrokesParam | LayerParam | FocusParam | PhotoParam;
export type ParamValue = number | string | Curve | readonly Sample[] | readonly Focus[];
export type Params = Readonly<Record<string, Param>>;
type ValueOf<P extends Param> = P extends NumberParam
  ? number
  : P extends ChoiceParam | FileParam | StrokesParam | LayerParam | PhotoParam
    ? string
    : P extends CurveParam
      ? Curve
      : P extends SamplesParam
        ? readonly Sample[]
        : P extends FocusParam
          ? readonly Focus[]
          : never;

/**
 * A control drawn on the photo, by the params that it moves. Places are from the photo's middle, they and lengths are shares of its long edge, angles degrees clockwise.
 * `onPicture`: places and radii are shares of the finished picture's half sides instead.
 */
export type Handle =
  /** An oval with an outer border and an inner one, which is a share of it. */
  | {
      readonly shape: 'oval';
      readonly x: string;
      readonly y: string;
      readonly width: string;
      readonly height: string;
      readonly angle: string;
      readonly inner: string;
      readonly onPicture?: true;
    }
  /** A strip: half its whole width, and how far it fades on either side. */
  | {
      readonly shape: 'band';
      readonly x: string;
      readonly y: string;
      readonly half: string;
      readonly before: string;
      readonly after: string;
      readonly angle: string;
    }
  /** From where it begins to where it ends. */
  | { readonly shape: 'ramp'; readonly x: string; readonly y: string; readonly length: string; readonly angle: string }
  /** An oval that is whole within, and where it ends on each of its four sides, in shares of its radii. `ends` says whether the four move together. */
  | {
      readonly shape: 'clearing';
      readonly x: string;
      readonly y: string;
      readonly width: string;
      readonly height: string;
      readonly angle: string;
      readonly right: string;
      readonly left: string;
      readonly below: string;
      readonly above: string;
      readonly ends: string;
    }
  /** A picture with its four corners. */
  | { readonly shape: 'sheet' }
  /** A place alone. */
  | { readonly shape: 'point'; readonly x: string; readonly y: string }
  /** A tapped place and how far it reaches. */
  | { readonly shape: 'spot'; readonly samples: string; readonly reach: string };
export type Values<P extends Params = Params> = { readonly [K in keyof P]: ValueOf<P[K]> };

/**
 * sRGB-encoded values (what curves, levels and blends are expected to work on), linear light (what models light), or OKLab (lightness, a, b).
 */
export type Space = 'encoded' | 'linear' | 'oklab';

/** Several params on one drawing; each has its fader too. */
export type Board =
  /** Black, midtone and white over the tones, and what black and white become. */
  | { readonly board: 'levels'; readonly section?: string; readonly params: readonly string[] }
  /** Shares of neighbouring hues side by side. */
  | { readonly board: 'bands'; readonly section?: string; readonly params: readonly string[] }
  /** Three rows of three. */
  | {
      readonly board: 'matrix';
      readonly section?: string;
      readonly params: readonly string[];
      readonly rows: readonly string[];
      readonly columns: readonly string[];
    };

/** What a drag on the photo does: the control it governs, and the values that come of it. */
export interface Dragged<P extends Params = Params> {
  readonly label: string;
  readonly values: Partial<Values<P>>;
}

export interface Kind<Id extends string = string, P extends Params = Params> {
  readonly id: Id;
  readonly family: Family;
  readonly label: string;
  /** One plain sentence: what it does to a picture. */
  readonly note: string;
  /** The space of the values it works on; the engine converts. */
  readonly space: Space;
  readonly params: P;
  /** What the default does: nothing, or what is said here. */
  readonly byDefault: 'neutral' | string;
  /** Values under which the rack shows a kind whose default is neutral. */
  readonly shown?: Partial<Values<P>>;
  /** Named starting points, each with what differs from the defaults. */
  readonly variants?: readonly { readonly label: string; readonly params: Partial<Values<P>> }[];
  /** The section of its params that a list of colour corrections can fill. */
  readonly listed?: string;
  /** It is judged at 1:1: that is offered at once. */
  readonly close?: true;
  /** Drawings that show several of its params at once. */
  readonly boards?: readonly Board[];
  /** What this kind wants to tell of a photo, if it does not suit it well. */
  readonly fit?: (facts: Facts) => string | undefined;
  /** Values found from the picture that a layer reads. */
  readonly auto?: (seen: Bytes) => Partial<Values<P>>;
  /** The one param that they are for, where it is one: a new layer begins with what was found, and the button stands beside its fader. */
  readonly autoFor?: Extract<keyof P, string>;
  /** Its controls on the photo. */
  readonly handle?: Handle;
  /** Amounts that its controls on the photo stand for, to be looked at while they are moved: 1 where it does all it does. */
  readonly map?: (values: Values<P>, place: FilmPlace) => Image;
  /**
   * What moves when a place of the photo is dragged up or down: `amount` goes from -1 to 1. The place is seen as the layer reads it. `section` is the leaf of the
   * controls that is open. Nothing, where no control governs the place.
   */
  readonly drag?: (spot: Spot, values: Values<P>, amount: number, section: string | undefined) => Dragged<P> | undefined;
  /** It brings pixels of its own, which layers inside it change. */
  readonly holds?: true;
  /** Of such a kind: how much of each place it covers. */
  readonly cover?: (values: Values<P>, place: FilmPlace) => Image;
  /** What becomes of what a layer reads, given in the kind's space. To leave the picture as it is, `read` itself is given back. */
  readonly work: Work<P>;
  /** The number of that work; 1, unless said. A layer keeps the one that it was made with, so that what was finished stays as it is. */
  readonly revision?: number;
  /** Of a later one than 1: a sentence that says what it does otherwise. */
  readonly changes?: string;
  /** Earlier work by its number, for as long as it differs by more than a level anywhere on the proof sheets. */
  readonly earlier?: Readonly<Record<number, Work<P>>>;
}

type Work<P extends Params> = (read: Image, values: Values<P>, place: FilmPlace) => Image;

/** The number of the work that a new layer of a kind is made with. */
export const revisionOf = ({ revision = 1 }: Pick<Kind, 'revision'>): number => revision;

/** The schema of a layer's revision: of one that this program knows. A layer that says none is of the first. */
export const revisionSchema = (kind: Pick<Kind, 'revision'>): z.ZodOptional<z.ZodNumber> =>
  z.number().int().min(1).max(revisionOf(kind), 'A newer Bexlen made this layer.').optional();

/** The work of a kind as a layer of some revision has it. */
export const workOf = <P extends Params>(
  { work, earlier, revision = 1 }: Pick<Kind<string, P>, 'work' | 'earlier' | 'revision'>,
  wanted: number,
): Work<P> => (wanted === revision ? work : (earlier?.[wanted] ?? work));

/** One kind of layer. Schema, controls, docs and the tests over all kinds follow from it. */
export const defineKind = <const Id extends string, const P extends Params>(kind: Kind<Id, P>): Kind<Id, P> => kind;

type Given = Partial<Omit<NumberParam, 'type'>> & { readonly label: string };

export const number = (given: Given): NumberParam => ({ type: 'number', unit: 'plain', min: 0, max: 1, step: 0.01, at: 0, ...given });
/** A share, stored as a fraction of 1. */
export const percent = (given: Given): NumberParam => number({ unit: 'percent', ...given });
/** A tone, 0 black to 1 white, shown as 0 to 255. */
export const toneLevel = (given: Given): NumberParam => number({ unit: 'level', step: 1 / 255, ...given });
/** A length as a fraction of the long edge. */
export const length = (given: Given): NumberParam => number({ unit: 'length', step: 0.0005, ...given });

/** A whole number that chance begins with. */
export const seed = (): NumberParam => number({ label: 'Seed', max: 999, step: 1, at: 1, seed: true });
/** Light in stops. */
export const stops = (given: Given): NumberParam => number({ unit: 'stops', min: -5, max: 5, step: 0.05, ...given });
/** A hue, in degrees of OKLab. */
export const angle = (given: Given): NumberParam => number({ unit: 'degrees', min: 0, max: 360, step: 1, ...given });
export const choice = (label: string, options: ChoiceParam['options'], section?: string): ChoiceParam => ({
  type: 'choice',
  label,
  options,
  at: options[0]?.id ?? '',
  ...(section && { section }),
});
/** One of more ways than stand side by side. */
export const listed = (label: string, options: ChoiceParam['options']): ChoiceParam => ({ ...choice(label, options), listed: true });
export const file = (label: string, ending: string): FileParam => ({ type: 'file', label, ending, at: '' });
/** A curve from black to white. */
export const straightCurve: Curve = {
  shape: 'smooth',
  nodes: [
    [0, 0],
    [1, 1],
  ],
};
export const toneCurve = (label: string, section?: string): CurveParam => ({ type: 'curve', label, at: straightCurve, ...(section && { section }) });

/** A coordinate of a place on the uncropped photo, from its middle, in shares of its long edge. */
export const place = (given: Given): NumberParam => length({ min: -1.5, max: 1.5, step: 0.002, ...given });
export const samples = (label: string, most = 8): SamplesParam => ({ type: 'samples', label, most, at: [] });
export const strokes = (label: string): StrokesParam => ({ type: 'strokes', label, at: '' });
export const lights = (label: string): StrokesParam => ({ ...strokes(label), light: true });
export const photoFile = (label: string): PhotoParam => ({ type: 'photo', label, at: '' });
export const layer = (label: string): LayerParam => ({ type: 'layer', label, at: '' });

function valueSchema(param: Param): z.ZodType {
  if (param.type === 'number') return z.number().min(param.min).max(param.max);
  if (param.type === 'curve') return curveSchema;
  if (param.type === 'file' || param.type === 'photo') return keptText(z.string()).max(200, 'A file name has at most 200 characters.');
  if (param.type === 'samples') return z.array(sampleSchema).max(param.most, `${param.label}: at most ${param.most}.`);
  if (param.type === 'strokes') return z.string().regex(/^([0-9a-f]{32}|live-\d+)?$/, 'A painting is named by 32 hexadecimal digits.');
  if (param.type === 'focus') return focusSchema(param);
  if (param.type === 'layer') return z.string().regex(/^[a-z0-9-]{0,40}$/, 'A layer is named by its id.');
  return z.enum(param.options.map(({ id }) => id));
}

const focusSchema = ({ item, label, most }: FocusParam): z.ZodType =>
  z
    .array(item)
    .max(most, `${label}: at most ${most}.`)
    .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, `${label}: two have the same id.`);

/** The schema of a kind's parameters: in range, finite, nothing else. One that is missing has its default, so that kinds can gain parameters. */
export function paramsSchema<P extends Params>(params: P): z.ZodType<Values<P>> {
  const shape = Object.fromEntries(Object.entries(params).map(([id, param]) => [id, valueSchema(param).default(param.at)]));
  return z.strictObject(shape) as unknown as z.ZodType<Values<P>>;
}

export function defaults<P extends Params>(params: P): Values<P> {
  return Object.fromEntries(Object.entries(params).map(([id, param]) => [id, param.at])) as unknown as Values<P>;
}
