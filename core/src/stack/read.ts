import { z } from 'zod';
import { BexlenError } from '../errors';
import { isKind } from '../kinds';
import { echoed, refusalOf } from '../refusals';
import { fromOlder } from './older';
import { namedBy } from './references';
import { allLayers, MAX_LAYERS, MAX_NESTING, stackSchema, type Layer, type Stack } from './schema';

/**
 * A stack from outside, of this schema or an older one, checked. Size and depth are counted first, without recursion, so that no input can exhaust the checker.
 * Throws `bad-version` with the path of the first fault.
 */
export function readStack(input: unknown): Stack {
  checkSize(input);
  const today = fromOlder(input, 'schema');
  const result = stackSchema.safeParse(today);
  if (!result.success) throw badVersion(sentence(result.error, today));
  const ids = allLayers(result.data.layers).map(({ id }) => id);
  const twice = ids.find((id, i) => ids.indexOf(id) !== i);
  if (twice) throw badVersion(`Two layers have the id ${twice}.`);
  const wrong = wrongLink(result.data.layers);
  if (wrong) throw badVersion(wrong);
  return result.data;
}

/** What is wrong with masks that are the same as another layer's: one names a layer that is not there, or they go round in a circle. */
export function wrongLink(layers: readonly Layer[]): string | undefined {
  const byId = new Map(allLayers(layers).map((layer) => [layer.id, layer]));
  for (const layer of byId.values()) {
    const lost = namedBy(layer, 'layer').find((id) => !byId.has(id));
    if (lost !== undefined) return `The mask of “${echoed(layer.name)}” is the same as that of a layer ${lost}, which is not there.`;
  }
  const clear = new Set<string>();
  const circle = (id: string, above: ReadonlySet<string>): string | undefined => {
    if (above.has(id)) return id;
    if (clear.has(id)) return undefined;
    const layer = byId.get(id);
    const found = (layer ? namedBy(layer, 'layer') : []).map((next) => circle(next, new Set([...above, id]))).find((it) => it !== undefined);
    if (found === undefined) clear.add(id);
    return found;
  };
  const found = [...byId.keys()].map((id) => circle(id, new Set())).find((id) => id !== undefined);
  const layer = found === undefined ? undefined : byId.get(found);
  return layer && `The mask of “${echoed(layer.name)}” would be the same as itself, in a circle.`;
}

const badVersion = (message: string): BexlenError =>
  new BexlenError('bad-version', message, 'Nothing was changed. Open the version again, or send one that fits its schema.');

function sentence(error: z.ZodError, input: unknown): string {
  const issue = error.issues[0];
  const at = issue?.path.map(String).join('.') ?? '';
  const layer = issue && at.endsWith('.kind') ? issue.path.slice(0, -1).reduce<unknown>(child, input) : undefined;
  const kind = layer === undefined ? undefined : child(layer, 'kind');
  if (kind !== undefined && !isKind(String(kind))) return `${at}: there is no kind called “${echoed(kind, 40)}”.`;
  return refusalOf(error, 'The version');
}

const child = (value: unknown, key: PropertyKey): unknown =>
  typeof value === 'object' && value !== null ? (value as Record<PropertyKey, unknown>)[key] : undefined;

/** Counts layers and nesting without recursion. Throws `bad-version`. */
export function checkSize(input: unknown): void {
  let count = 0;
  let row: unknown[] = [input];
  for (let depth = 0; row.length > 0; depth++) {
    if (depth > MAX_NESTING + 1) throw badVersion(`Groups are nested more than ${MAX_NESTING} deep.`);
    row = row.flatMap((item) => {
      const layers = child(item, 'layers');
      return Array.isArray(layers) ? (layers as unknown[]) : [];
    });
    count += row.length;
    if (count > MAX_LAYERS) throw badVersion(`A version takes at most ${MAX_LAYERS} layers; this one has more.`);
  }
}
