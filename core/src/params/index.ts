import { z } from 'zod';
import { choiceType, type ChoiceParam } from './choice';
import { curveType, type CurveParam } from './curve';
import { fileType, type FileParam } from './file';
import { focusType, type FocusParam } from './focus';
import { layerType, type LayerParam } from './layer';
import { numberType, type NumberParam } from './number';
import { photoType, type PhotoParam } from './photo';
import { samplesType, type SamplesParam } from './samples';
import { strokesType, type StrokesParam } from './strokes';
import type { Chance, ParamType, Referent } from './type';

/** Every type of parameter, each in a file of its own. */
const paramTypes = {
  number: numberType,
  choice: choiceType,
  curve: curveType,
  file: fileType,
  photo: photoType,
  strokes: strokesType,
  samples: samplesType,
  layer: layerType,
  focus: focusType,
};

export type Param = NumberParam | ChoiceParam | CurveParam | FileParam | PhotoParam | StrokesParam | SamplesParam | LayerParam | FocusParam;
export type ParamValue = Param['at'];
/** Parameters by name. */
export type Params = Readonly<Record<string, Param>>;
/** Values of parameters by name, as a layer has them. */
export type Values<P extends Params = Params> = { readonly [K in keyof P]: P[K]['at'] };
/** Values of parameters that are not known by name. */
export type AnyValues = Readonly<Record<string, ParamValue>>;

const typeOf = ({ type }: Param): ParamType<Param> => paramTypes[type] as unknown as ParamType<Param>;

/** The schema of some parameters: in range, finite, nothing else. One that is missing has its default, so that kinds can gain parameters. */
export const paramsSchema = <P extends Params>(params: P): z.ZodType<Values<P>> =>
  z.strictObject(paramsShape(params)) as unknown as z.ZodType<Values<P>>;

/** The fields of such a schema, for what has others beside them. */
export const paramsShape = <P extends Params>(params: P): { readonly [K in keyof P]: z.ZodDefault<z.ZodType<P[K]['at']>> } =>
  Object.fromEntries(
    Object.entries(params).map(([id, param]) => [
      id,
      typeOf(param)
        .schema(param)
        .default(param.at as never),
    ]),
  ) as never;

export const defaults = <P extends Params>(params: P): Values<P> =>
  Object.fromEntries(Object.entries(params).map(([id, param]) => [id, param.at])) as unknown as Values<P>;

/** What a parameter's values name, if they name anything. */
export const refersTo = (param: Param): Referent | undefined => typeOf(param).refersTo;
/** Whether a parameter's value lies somewhere on the photo. */
export const isPlaced = (param: Param): boolean => typeOf(param).placed === true;

/** A parameter's range and default in the units that people read. Lengths are of a photo of 6000 pixels. */
export const rangeOf = (param: Param): string => typeOf(param).range(param);
/** What a look file holds of a parameter. */
export const stored = (param: Param): string => typeOf(param).stored(param);
/** What a change did, behind the name of its layer: `radius 34 px → 51 px`. @param edge long edge of the full-size photo in pixels. */
export const changeOf = (param: Param, before: ParamValue, after: ParamValue, edge: number): string =>
  typeOf(param).change(param, before, after, edge);

/** Any value that a parameter can have. */
export const randomValue = (param: Param, chance: Chance): ParamValue => (chance.is(0.2) ? param.at : typeOf(param).random(param, chance));
/** A value between the least (0) and the most (1) of a parameter. */
export const valueBetween = (param: Param, share: number, name: Chance['name']): ParamValue => typeOf(param).between(param, share, name);
/** Values that a proof sheet shows beside the usual one. */
export const proofsOf = (param: Param): readonly { readonly label: string; readonly value: ParamValue }[] => typeOf(param).proofs(param);

export { choice, listed, type ChoiceParam } from './choice';
export { straightCurve, toneCurve, type CurveParam } from './curve';
export { figure, fromFader, hold, parseFigure, stepped, stripValues, toFader, type Unit } from './figure';
export { file, fileLabel, type FileParam } from './file';
export type { Focus, FocusItem, FocusParam } from './focus';
export type { Handle } from './handle';
export { layer, type LayerParam } from './layer';
export { angle, length, number, percent, place, seed, stops, toneLevel, type NumberParam } from './number';
export { photoFile, type PhotoParam } from './photo';
export { samples, type Sample, type SamplesParam } from './samples';
export { lights, strokes, type StrokesParam } from './strokes';
export type { Chance, Referent } from './type';
