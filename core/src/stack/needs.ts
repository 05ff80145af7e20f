import { placingOf } from '../kinds';
import { cornersOf, type Corners } from '../picture/placing';
import type { Resources } from '../resources';
import { askedBy, namersOf } from './references';
import { allLayers, type Layer, type Stack } from './schema';

/** Layers whose strokes are not all at hand. */
export const layersWithout = ({ layers }: Pick<Stack, 'layers'>, { strokes }: Resources): Layer[] => [
  ...new Set([...namersOf(layers, 'painting')].flatMap(([name, layer]) => (strokes.chainTo(name).missing === undefined ? [] : [layer]))),
];

/** Photos that live layers lay over, each with the largest size that one needs, as a share of the photo's long edge, and with the layer that needs it. A layer for which none was chosen needs the one without a name. */
export function picturesNeeded({ layers }: Pick<Stack, 'layers'>): Map<string, { readonly layer: string; readonly share: number }> {
  const needed = new Map<string, { layer: string; share: number }>();
  const walk = (all: readonly Layer[]): void =>
    all
      .filter(({ on, strength }) => on && strength > 0)
      .forEach((layer) => {
        const names = askedBy(layer, 'photo');
        const share = names.length === 0 || layer.kind === 'group' ? 0 : longestSide(cornersOf(placingOf(layer.params as never)));
        for (const name of names) needed.set(name, { layer: layer.name, share: Math.max(share, needed.get(name)?.share ?? 0) });
        walk(layer.layers ?? []);
      });
  walk(layers);
  return needed;
}
/** Of a picture of any shape: its long side is at least as long as this. */
function longestSide(corners: Corners): number {
  return Math.max(...corners.map(([x, y], i) => Math.hypot(x - (corners[(i + 1) % 4]?.[0] ?? 0), y - (corners[(i + 1) % 4]?.[1] ?? 0))));
}

/** Whether a stack asks for the proxy of its photo. */
export const needsProxy = ({ layers }: Pick<Stack, 'layers'>): boolean =>
  allLayers(layers).some(({ mask }) => mask.parts.some(({ part, params }) => part === 'colour' && params['where'] === 'touching'));
