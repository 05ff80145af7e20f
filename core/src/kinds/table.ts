import { families, type Param } from './define';
import { figure } from './figure';
import { kindOf, kinds } from '.';

export { families, kindOf, kinds };

const WHAT = {
  samples: 'tapped places',
  strokes: 'what is painted',
  layer: 'another layer',
  focus: 'bands, ovals and pins',
  photo: 'a photo',
} as const;
const STORED = {
  samples: '[{ x, y, l, a, b }]',
  strokes: 'name of the last stroke',
  layer: 'id of a layer',
  focus: '[{ id, shape, params }]',
  photo: 'name of a photo',
} as const;

/** A parameter's range and default in the units that people read. Lengths are of a photo of 6000 pixels. */
export function rangeOf(param: Param): string {
  if (param.type === 'choice') return param.options.map(({ id }) => id).join(', ');
  if (param.type === 'curve') return 'a curve';
  if (param.type === 'file') return `a ${param.ending} file`;
  if (param.type !== 'number') return WHAT[param.type];
  const say = (value: number): string => figure(param, value, 6000);
  return `${say(param.min)} to ${say(param.max)}, at first ${say(param.at)}`;
}

/** All kinds with their parameters, as text. */
export function kindTable(): string {
  return kinds
    .map(({ id }) => kindOf(id))
    .map(({ id, family, label, note, params }) => {
      const names = Object.entries(params).map(([name, param]) => `    ${name.padEnd(20)} ${stored(param).padEnd(26)} ${rangeOf(param)}`);
      const { label: of = family } = families.find((entry) => entry.id === family) ?? {};
      return [`${id}  (${of}) ${label}: ${note}`, ...names].join('\n');
    })
    .join('\n\n');
}

/** What a look file holds. */
export function stored(param: Param): string {
  if (param.type === 'choice') return 'text';
  if (param.type === 'curve') return '{ shape, nodes }';
  if (param.type === 'file') return 'name of a file beside it';
  if (param.type !== 'number') return STORED[param.type];
  return `${param.min} to ${param.max} (${Number(param.at.toFixed(4))})`;
}
