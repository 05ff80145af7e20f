import { BexlenError } from '../errors';
import { fits, newGroup } from '../stack/edit';
import { allLayers, type Layer, type Stack } from '../stack/schema';
import type { Stand } from './stand';
import { fitLayer, USUAL } from './fitting';
import type { Look } from './look';

/** Where a look goes: before the layers that are there, after them, or in their place. */
export const placesOfLooks = [
  { id: 'over', label: 'Over' },
  { id: 'under', label: 'Under' },
  { id: 'instead', label: 'In place' },
] as const;
export type PlaceOfLook = (typeof placesOfLooks)[number]['id'];

export interface Putting {
  readonly where: PlaceOfLook;
  /** 0..1 */
  readonly strength: number;
  /** Where the picture stands that it is put on, if it is to be brought to where the look was made. */
  readonly from?: Stand | undefined;
  readonly newId: () => string;
}

/** What a look is put on: the layers that it comes after, or none of them. */
export const beneathLook = (stack: Stack, where: PlaceOfLook): Stack => (where === 'over' ? stack : { ...stack, master: 1, layers: [] });

/**
 * A stack with a look on it. The look's layers have new ids; several stand in a group of the look's name, whose fader is its strength. One alone takes the strength
 * as its own. With `from`, a channel under them brings the picture to where the look was made. Throws `bad-request` where more layers come together than a version takes.
 */
export function putOn(
  stack: Stack,
  { name, stack: given, geometry, made: to }: Pick<Look, 'name' | 'stack' | 'geometry' | 'made'>,
  { where, strength, from, newId }: Putting,
): Stack {
  const layers = renewed(given.layers, newId);
  const shaped = geometry ? { ...stack, geometry: given.geometry } : stack;
  const fitted = from && fitLayer(from, to ?? USUAL, newId);
  const made = ((): Stack => {
    if (where === 'instead' && strength === 1 && !fitted) return { ...shaped, master: given.master, layers };
    const one = [...(fitted ? [fitted] : []), ...asOne(layers, name, strength * Math.min(1, given.master), newId)];
    if (where === 'instead') return { ...shaped, master: 1, layers: one };
    return { ...shaped, layers: where === 'under' ? [...one, ...stack.layers] : [...stack.layers, ...one] };
  })();
  if (!fits(made))
    throw new BexlenError(
      'bad-request',
      `“${name}” and what is there are more layers than a version takes.`,
      'Put it in place of them, or on a new version.',
    );
  return made;
}

function asOne(layers: readonly Layer[], name: string, strength: number, newId: () => string): Layer[] {
  const [only] = layers;
  if (!only) return [];
  if (layers.length === 1) return [{ ...only, strength: only.strength * strength }];
  return [{ ...newGroup(newId(), layers), name: name.slice(0, 60), strength }];
}

/** Layers with ids of their own; masks that are the same as another of them follow it. */
export function renewed(layers: readonly Layer[], newId: () => string): Layer[] {
  const ids = new Map(allLayers(layers).map(({ id }) => [id, newId()]));
  const again = (layer: Layer): Layer =>
    ({
      ...layer,
      id: ids.get(layer.id) as string,
      mask: {
        ...layer.mask,
        parts: layer.mask.parts.map((part) =>
          part.part === 'same-as' ? { ...part, params: { ...part.params, layer: ids.get(String(part.params['layer'])) ?? '' } } : part,
        ),
      },
      ...(layer.layers && { layers: layer.layers.map(again) }),
    }) as Layer;
  return layers.map(again);
}
