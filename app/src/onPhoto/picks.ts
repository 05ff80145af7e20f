import { figure, partKindOf, spotAt, type NumberParam, type Part, type ParamValue, type Sample } from '@bexlen/core';
import type { Point } from './places';

/** Pixels about a tapped place whose mean is taken: for a spot more, since it goes by its surroundings. */
const REACH = 2;
const SURROUNDINGS = 5;

/** Values of a part when a place of the photo is tapped. */
export function pickedAt(part: Part, image: ImageData, u: number, v: number, { x, y }: Point): Record<string, ParamValue> {
  const { pick, params } = partKindOf(part.part);
  if (!pick) return {};
  const list = pick.samples ? params[pick.samples] : undefined;
  const one = list?.type === 'samples' && list.most === 1;
  const { lightness: l, chroma, hueDeg, tone } = spotAt(image, u, v, one ? SURROUNDINGS : REACH);
  const hue = (hueDeg * Math.PI) / 180;
  const sample: Sample = { x, y, l, a: chroma * Math.cos(hue), b: chroma * Math.sin(hue) };
  if (!pick.samples || list?.type !== 'samples') return { ...(pick.values?.({ x, y, tone }) as Record<string, ParamValue> | undefined) };
  const before = one ? [] : (part.params[pick.samples] as readonly Sample[]);
  return { [pick.samples]: [...before, sample].slice(-list.most) };
}

/** What a drag on from the tapped place sets: its name, its value after a share of its range, and that in figures. */
export function pickFigure(
  part: Part,
  values: Readonly<Record<string, ParamValue>>,
  share: number,
  edge: number,
): { name: string; value: number; text: string } {
  const { pick, params } = partKindOf(part.part);
  const name = pick?.drag ?? '';
  const param = params[name] as NumberParam;
  const from = Number(values[name] ?? part.params[name] ?? param.at);
  const range = (param.middle ?? param.max) * 2;
  const value = Math.min(param.max, Math.max(param.min, from + share * range));
  return { name, value, text: `${param.label} ${figure(param, value, edge)}` };
}
