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
import { linearDodge } from './modes/linear-dodge';
import { linearBurn } from './modes/linear-burn';
import { linearLight } from './modes/linear-light';
import { vividLight } from './modes/vivid-light';
import { pinLight } from './modes/pin-light';
import { subtract } from './modes/subtract';
import { divide } from './modes/divide';
import { darkerColor } from './modes/darker-color';
import { lighterColor } from './modes/lighter-color';
import type { Mode, ModeFamily } from './mode';

/** All blend modes: the sixteen of the specification in its order, then those of the trade. */
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
  linearDodge,
  linearBurn,
  linearLight,
  vividLight,
  pinLight,
  subtract,
  divide,
  darkerColor,
  lighterColor,
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
