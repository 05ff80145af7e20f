import { aperture } from './aperture';
import type { Filter } from './filter';
import { painterly } from './painterly';
import { relief } from './relief';
import { sweep } from './sweep';

const filters = new Map<string, Filter>([aperture, sweep, painterly, relief].map((filter) => [filter.id, filter]));

export const filterIds: readonly string[] = [...filters.keys()];

/** The filter of an id. Throws on an unknown one. */
export function filterOf(id: string): Filter {
  const filter = filters.get(id);
  if (!filter) throw new Error(`no filter is called ${id}`);
  return filter;
}

export type { Filter, Filtered, Filtering } from './filter';
