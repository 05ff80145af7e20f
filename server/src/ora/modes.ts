import { modes, type ModeId } from '@bexlen/core';

/** Modes that OpenRaster has (Baseline Intent, `composite-op`), by its names without `svg:`. */
const SHARED: ReadonlySet<string> = new Set([
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'color',
  'luminosity',
  'hue',
  'saturation',
]);

/** What OpenRaster calls a mode; nothing, if it has none like it. */
export function operatorOf(mode: ModeId): string | undefined {
  if (mode === 'normal') return 'svg:src-over';
  return SHARED.has(mode) ? `svg:${mode}` : undefined;
}

/** The mode for what OpenRaster says; nothing, if it is not known here. */
export function modeOfOperator(operator: string): ModeId | undefined {
  const name = operator.replace(/^svg:/, '');
  if (name === 'src-over') return 'normal';
  if (name === 'plus') return 'add';
  return SHARED.has(name) ? modes.find(({ id }) => id === name)?.id : undefined;
}
