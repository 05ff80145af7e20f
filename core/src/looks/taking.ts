import { asItCame } from '../geometry/geometry';
import { emptyMask, type Mask } from '../masks/mask';
import { kindOf } from '../kinds';
import { references, withoutNames } from '../stack/references';
import { allLayers, type Layer, type Stack } from '../stack/schema';

/** What is taken of a version. */
export interface Taking {
  /** Ids of the layers that are chosen; a group that is chosen comes with all that is in it. All layers, unless said. */
  readonly layers?: ReadonlySet<string>;
  readonly masks: boolean;
  readonly geometry: boolean;
  readonly strokes: boolean;
}

/** A look out of a stack: what was chosen and nothing else, and in sentences what had to stay behind. A picture comes without its photo. */
export function takeLook(stack: Stack, { layers: chosen, masks, geometry, strokes }: Taking): { readonly stack: Stack; readonly left: string[] } {
  const left = new Set<string>();
  const walk = (layers: readonly Layer[], whole: boolean): Layer[] =>
    layers.flatMap((layer): Layer[] => {
      const wanted = whole || !chosen || chosen.has(layer.id);
      if (!wanted) return layer.layers ? walk(layer.layers, false) : [];
      return [{ ...layer, ...(layer.layers && { layers: walk(layer.layers, true) }) } as Layer];
    });
  const taken = walk(stack.layers, false);
  const there = new Set(allLayers(taken).map(({ id }) => id));
  const maskOf = (layer: Layer): Mask => {
    if (!masks) return emptyMask;
    const parts = layer.mask.parts.filter((part) => {
      const named = references({ ...layer, mask: { ...layer.mask, parts: [part] } }, 'mask');
      const painted = named.some(({ to }) => to === 'painting') && !strokes;
      if (painted) left.add(`What is painted on the mask of “${layer.name}” is left out.`);
      const lost = named.some(({ to, name }) => to === 'layer' && !there.has(name));
      if (lost) left.add(`“${layer.name}” is masked as a layer that was not chosen; that part is left out.`);
      return !lost && !painted;
    });
    return { ...layer.mask, parts };
  };
  const bare = (layer: Layer): Layer => {
    const mask = maskOf(layer);
    const inside = layer.layers && { layers: layer.layers.map(bare) };
    if (layer.kind === 'group') return { ...layer, mask, ...inside } as Layer;
    const named = references(layer, 'kind');
    if (named.some(({ to }) => to === 'photo')) left.add(`The photo of “${layer.name}” stays here: whoever puts the look on chooses one.`);
    if (!strokes && named.some(({ to }) => to === 'painting')) left.add(`What is painted in “${layer.name}” is left out.`);
    const params = withoutNames(kindOf(layer.kind).params, layer.params, strokes ? ['photo'] : ['photo', 'painting']);
    return { ...layer, mask, params, ...inside } as Layer;
  };
  return {
    stack: { ...stack, geometry: geometry ? stack.geometry : asItCame, master: chosen ? 1 : stack.master, layers: taken.map(bare) },
    left: [...left],
  };
}
