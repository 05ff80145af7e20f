import type { Kind } from './define';
import { bleachBypass } from './bleach-bypass';
import { blur } from './blur';
import { channelMix } from './channel-mix';
import { crossProcess } from './cross-process';
import { cube } from './cube';
import { curves } from './curves';
import { dodgeBurn } from './dodge-burn';
import { exposure } from './exposure';
import { fill } from './fill';
import { filmCharacter } from './film-character';
import { grade } from './grade';
import { grain } from './grain';
import { haze } from './haze';
import { hueBands } from './hue-bands';
import { infrared } from './infrared';
import { levels } from './levels';
import { localContrast } from './local-contrast';
import { monoMix } from './mono-mix';
import { rampFill } from './ramp-fill';
import { saturation } from './saturation';
import { solarise } from './solarise';
import { tone } from './tone';
import { toning } from './toning';
import { vignette } from './vignette';
import { whiteBalance } from './white-balance';

/** All kinds of layers, in the order of the rack. */
export const kinds = [
  exposure,
  tone,
  levels,
  curves,
  localContrast,
  haze,
  whiteBalance,
  saturation,
  hueBands,
  monoMix,
  toning,
  grade,
  channelMix,
  cube,
  filmCharacter,
  bleachBypass,
  crossProcess,
  solarise,
  infrared,
  grain,
  blur,
  vignette,
  fill,
  rampFill,
  dodgeBurn,
] as const;

export type KindId = (typeof kinds)[number]['id'];

const byId = new Map<string, Kind>(kinds.map((kind) => [kind.id, kind as unknown as Kind]));

/** The kind of an id from a checked version. Throws on an unknown one. */
export function kindOf(id: string): Kind {
  const kind = byId.get(id);
  if (!kind) throw new Error(`no kind is called ${id}`);
  return kind;
}

export const isKind = (id: string): id is KindId => byId.has(id);

export { defaults, families, paramsSchema, straightCurve } from './define';
export type {
  Board,
  Family,
  Handle,
  Kind,
  NumberParam,
  Param,
  Params,
  ParamValue,
  CurveParam,
  ChoiceParam,
  FileParam,
  LayerParam,
  Sample,
  SamplesParam,
  Space,
  StrokesParam,
  Unit,
  Values,
} from './define';
export { figure, fromFader, parseFigure, stepped, stripValues, toFader } from './figure';
export { levelPlaces, levelsPlaced, type Five } from './levels';
