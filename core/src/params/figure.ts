import { unit } from '../clamp';
import type { NumberParam } from './number';

/**
 * How a figure is shown. Stored values are always plain: a `percent` of 0.2 shows as 20 %, a `level` of 1 as 255, a `length` is a
 * fraction of the long edge and shows in pixels of the full-size photo.
 */
export type Unit = 'percent' | 'level' | 'length' | 'plain' | 'stops' | 'degrees' | 'micrometres';

/** How many shown units one stored unit is. `longEdgePx` is that of the full-size photo. */
function scale(unit: Unit, longEdgePx: number): number {
  return { percent: 100, level: 255, length: longEdgePx, plain: 1, stops: 1, degrees: 1, micrometres: 1 }[unit];
}

const names: Record<Unit, string> = { percent: ' %', level: '', length: ' px', plain: '', stops: ' EV', degrees: '\u00b0', micrometres: ' \u00b5m' };

function places(shown: number, unit: Unit, step: number): number {
  if (unit === 'degrees' && step < 1) return 1;
  if (unit === 'plain' && Number.isInteger(step)) return 0;
  if (unit === 'plain' || unit === 'stops') return 2;
  if (unit === 'length') return Math.abs(shown) < 10 ? 1 : 0;
  return 0;
}

/** How digits are written: with a point, until a page is put into a language that has another sign. */
let written = (shown: number, places: number): string => shown.toFixed(places);

/** Writes figures as a language does, without marks between thousands: they are typed over. Called once for a page. */
export function figuresIn(language: string): void {
  written = (shown, places) => shown.toLocaleString(language, { minimumFractionDigits: places, maximumFractionDigits: places, useGrouping: false });
}

/** A value as people read it: `20 %`, `34 px`, `1.20`. */
export function figure(
  { unit, step = 1 }: Pick<NumberParam, 'unit'> & Partial<Pick<NumberParam, 'step'>>,
  value: number,
  longEdgePx: number,
): string {
  const shown = value * scale(unit, longEdgePx);
  const digits = places(shown, unit, step);
  const text = written(shown, digits);
  return `${Number(shown.toFixed(digits)) === 0 ? text.replace('-', '') : text.replace('-', '\u2212')}${names[unit]}`;
}

/** The value that was typed, held in range; undefined if it is no number. Takes comma or point, with or without the unit. */
export function parseFigure(param: NumberParam, text: string, longEdgePx: number): number | undefined {
  const plain = text
    .replace(',', '.')
    .replace('\u2212', '-')
    .replace(/(%|px|EV|\u00b0|\u00b5m)\s*$/i, '')
    .trim();
  if (plain === '' || !Number.isFinite(Number(plain))) return undefined;
  return hold(param, Number(plain) / scale(param.unit, longEdgePx));
}

export const hold = ({ min, max }: Pick<NumberParam, 'min' | 'max'>, value: number): number => Math.min(max, Math.max(min, value));

/** The power that bends a fader so that its middle stands at `middle`. */
function bend({ min, max, middle }: NumberParam): number {
  return middle === undefined ? 1 : Math.log((middle - min) / (max - min)) / Math.log(0.5);
}

/** Where on its fader a value stands, 0..1. */
export function toFader(param: NumberParam, value: number): number {
  return (hold(param, value) - param.min) / (param.max - param.min) > 0
    ? ((hold(param, value) - param.min) / (param.max - param.min)) ** (1 / bend(param))
    : 0;
}

/** The value at a place 0..1 of a fader, rounded so that ends and defaults are met exactly. */
export function fromFader(param: NumberParam, place: number): number {
  return rounded(param, param.min + (param.max - param.min) * unit(place) ** bend(param));
}

/** The value so many steps further, held in range. */
export const stepped = (param: NumberParam, value: number, steps: number): number => rounded(param, value + steps * param.step);

/** A hundredth of a step is fine enough for any hand, or less where a bent fader is slow; digits beyond it are noise. */
function rounded(param: NumberParam, value: number): number {
  if (param.unit === 'plain' && Number.isInteger(param.step)) return hold(param, Math.round(value));
  const perUnit = (param.middle === undefined ? 100 : 10_000) / param.step;
  return hold(param, Math.round(value * perUnit) / perUnit);
}

/** Different values about one, evenly along the fader, moved inward at its ends; further apart where they would be the same. */
export function stripValues(param: NumberParam, value: number, span: number, count = 5): number[] {
  const middle = Math.min(1 - span / 2, Math.max(span / 2, toFader(param, value)));
  const places = Array.from({ length: count }, (_, i) => middle + span * (i / (count - 1) - 0.5));
  const values = places.map((place) => fromFader(param, place));
  const nearest = values.reduce((best, each, i) => (Math.abs(each - value) < Math.abs((values[best] as number) - value) ? i : best), 0);
  const different = [...new Set(values.map((each, i) => (i === nearest ? value : each)))];
  return different.length < count && span < 1 ? stripValues(param, value, Math.min(1, 2 * span), count) : different;
}
