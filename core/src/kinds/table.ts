import { rangeOf, stored } from '../params';
import { families } from './define';
import { kindOf, kinds } from '.';

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
