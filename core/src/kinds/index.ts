import { blur } from './blur';
import type { Kind } from './define';
import { levels } from './levels';
import { tone } from './tone';

/** All kinds of layers, in the order of the rack. */
export const kinds = [tone, levels, blur] as const;

export type KindId = (typeof kinds)[number]['id'];

const byId = new Map<string, Kind>(kinds.map((kind) => [kind.id, kind as unknown as Kind]));

/** The kind of an id from a checked version. Throws on an unknown one. */
export function kindOf(id: string): Kind {
  const kind = byId.get(id);
  if (!kind) throw new Error(`no kind is called ${id}`);
  return kind;
}

export const isKind = (id: string): id is KindId => byId.has(id);

export { defaults, families, paramsSchema } from './define';
export type { Family, Frame, Kind, NumberParam, Params, Unit, Values, Work } from './define';
export { figure, fromFader, parseFigure, stepped, toFader } from './figure';
