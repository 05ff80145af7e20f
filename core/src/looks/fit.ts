import { z } from 'zod';
import { kindOf } from '../kinds';
import { factNames, type Facts } from '../measure/facts';
import { partKindOf } from '../masks/parts';
import { asksFor } from '../stack/references';
import { allLayers, type Layer, type Stack } from '../stack/schema';

/** What a look asks of a photo: that a fact lies within bounds; if not, what is to be said. */
export const fitRuleSchema = z.strictObject({
  fact: z.enum(factNames),
  least: z.number().min(0).max(1).optional(),
  most: z.number().min(0).max(1).optional(),
  note: z.string().min(1).max(160, 'A rule’s note has at most 160 characters.'),
});
export type FitRule = z.infer<typeof fitRuleSchema>;

interface Fitted {
  readonly fit: readonly FitRule[];
  readonly stack: Pick<Stack, 'layers'>;
}

/** What is to be said of a look on a photo that it does not suit: its own rules, with the figure, then those of its kinds. */
export function fitNotes({ fit, stack }: Fitted, facts: Facts): string[] {
  const own = fit
    .filter(({ fact, least = 0, most = 1 }) => facts[fact] < least || facts[fact] > most)
    .map(({ fact, note }) => note.replace('#', `${Math.round(100 * facts[fact])} %`));
  const ofKinds = allLayers(stack.layers).flatMap((layer) => (layer.kind !== 'group' && layer.on ? (kindOf(layer.kind).fit?.(facts) ?? []) : []));
  return [...new Set(own.length > 0 ? own : ofKinds)];
}

/** What a look asks of who puts it on: a photo for its pictures, a place for masks that have one. */
export function needsOf({ stack }: Fitted): string[] {
  const layers = allLayers(stack.layers).filter(({ on }) => on);
  const pictures = layers.filter((layer) => asksFor(layer, 'photo'));
  const placed = layers.filter(hasPlace);
  return [
    ...pictures.map(({ name }) => `a photo for “${name}”`),
    ...(placed.length > 0 ? [placed.length === 1 ? `a place for “${placed[0]?.name ?? ''}”` : `places for ${placed.length} masks`] : []),
  ];
}

const PICKED = new Set(['samples', 'strokes', 'focus']);
/** Whether a layer lies on a place of the photo: by parts with handles on it, by colours picked from it, by what is in focus. */
function hasPlace(layer: Layer): boolean {
  const inMask = layer.mask.parts.some(({ on, part }) => {
    const { handle, params } = partKindOf(part);
    return on && (handle !== undefined || Object.values(params).some(({ type }) => PICKED.has(type)));
  });
  return inMask || (layer.kind !== 'group' && Object.values(kindOf(layer.kind).params).some(({ type }) => type === 'focus'));
}
