import type { Kind } from './define';
import { bleachBypass } from './bleach-bypass';
import { bloom } from './bloom';
import { blur } from './blur';
import { border } from './border';
import { brushwork } from './brushwork';
import { channelMix } from './channel-mix';
import { crossProcess } from './cross-process';
import { cube } from './cube';
import { curves } from './curves';
import { dodgeBurn } from './dodge-burn';
import { dustScratches } from './dust-scratches';
import { exposure } from './exposure';
import { fill } from './fill';
import { filmCharacter } from './film-character';
import { bandFocus, ovalFocus, pinFocus } from './focus';
import { glow } from './glow';
import { grade } from './grade';
import { grain } from './grain';
import { halation } from './halation';
import { haze } from './haze';
import { highPass } from './high-pass';
import { hueBands } from './hue-bands';
import { infrared } from './infrared';
import { lensBlur } from './lens-blur';
import { levels } from './levels';
import { lightLeak } from './light-leak';
import { localContrast } from './local-contrast';
import { mist } from './mist';
import { monoMix } from './mono-mix';
import { motionBlur } from './motion-blur';
import { orton } from './orton';
import { paper } from './paper';
import { picture } from './picture';
import { rampFill } from './ramp-fill';
import { saturation } from './saturation';
import { sharpen } from './sharpen';
import { softFocus } from './soft-focus';
import { solarise } from './solarise';
import { tone } from './tone';
import { toning } from './toning';
import { veil } from './veil';
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
  halation,
  grain,
  dustScratches,
  lightLeak,
  glow,
  orton,
  bloom,
  softFocus,
  veil,
  mist,
  blur,
  lensBlur,
  bandFocus,
  ovalFocus,
  pinFocus,
  motionBlur,
  sharpen,
  highPass,
  vignette,
  border,
  brushwork,
  paper,
  picture,
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

export { families, revisionOf, revisionSchema, workOf } from './define';
export type { Board, Family, Kind, Space } from './define';
export { placingOf } from './picture';
export { levelPlaces, levelsPlaced, type Five } from './levels';
