import { allLayers, paintingsIn, type Layer, type Stack } from '../stack/schema';
import { strokesTo } from './library';

/** Paintings that a stack names, by their last strokes, each once, with the layer that names it first. */
export function paintingsOfStack({ layers }: Pick<Stack, 'layers'>): Map<string, Layer> {
  const found = new Map<string, Layer>();
  for (const layer of allLayers(layers)) for (const name of paintingsIn(layer)) if (!found.has(name)) found.set(name, layer);
  return found;
}

/** Layers whose strokes are not all at hand. */
export const layersWithout = (stack: Pick<Stack, 'layers'>): Layer[] => [
  ...new Set([...paintingsOfStack(stack)].flatMap(([name, layer]) => (strokesTo(name).missing === undefined ? [] : [layer]))),
];

/** Whether a stack asks for the sketch of its photo. */
export const needsSketch = ({ layers }: Pick<Stack, 'layers'>): boolean =>
  allLayers(layers).some(({ mask }) => mask.parts.some(({ part, params }) => part === 'colour' && params['where'] === 'touching'));
