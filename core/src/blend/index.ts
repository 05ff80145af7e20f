import { color } from './modes/color';
import { colorBurn } from './modes/color-burn';
import { colorDodge } from './modes/color-dodge';
import { darken } from './modes/darken';
import { difference } from './modes/difference';
import { exclusion } from './modes/exclusion';
import { hardLight } from './modes/hard-light';
import { hue } from './modes/hue';
import { lighten } from './modes/lighten';
import { luminosity } from './modes/luminosity';
import { multiply } from './modes/multiply';
import { normal } from './modes/normal';
import { overlay } from './modes/overlay';
import { saturation } from './modes/saturation';
import { screen } from './modes/screen';
import { softLight } from './modes/soft-light';
import { add } from './modes/add';
import { deepen } from './modes/deepen';
import { push } from './modes/push';
import { etch } from './modes/etch';
import { outdo } from './modes/outdo';
import { subtract } from './modes/subtract';
import { divide } from './modes/divide';
import { darkerOfTwo } from './modes/darker-of-two';
import { lighterOfTwo } from './modes/lighter-of-two';
import type { Mode, ModeFamily } from './mode';

/** All blend modes: the sixteen of the specification in its order, then nine that are called by what they do. */
export const modes = [
  normal,
  multiply,
  screen,
  overlay,
  darken,
  lighten,
  colorDodge,
  colorBurn,
  hardLight,
  softLight,
  difference,
  exclusion,
  hue,
  saturation,
  color,
  luminosity,
  add,
  deepen,
  push,
  etch,
  outdo,
  subtract,
  divide,
  darkerOfTwo,
  lighterOfTwo,
] as const;

export type ModeId = (typeof modes)[number]['id'];
export const modeIds = modes.map((mode) => mode.id) as [ModeId, ...ModeId[]];

const byId = new Map<string, Mode>(modes.map((mode) => [mode.id, mode]));

/** The mode of an id from a checked version. Throws on an unknown one. */
export function modeOf(id: ModeId): Mode {
  const mode = byId.get(id);
  if (!mode) throw new Error(`no blend mode is called ${id}`);
  return mode;
}

/** Families as they stand on the desk: by what they do to the picture. */
export const modeFamilies: readonly { readonly id: ModeFamily; readonly label: string }[] = [
  { id: 'plain', label: 'Plain' },
  { id: 'lighten', label: 'Lift' },
  { id: 'darken', label: 'Darken' },
  { id: 'contrast', label: 'Contrast' },
  { id: 'compare', label: 'Compare' },
  { id: 'colour', label: 'Colour' },
];

export type { Mode, ModeFamily } from './mode';
