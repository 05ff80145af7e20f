import type { Image } from '../expressions/image';
import { either, greys, inverted, nothing, scaled } from '../expressions/coverage';
import type { FilmPlace } from '../geometry/shape';
import { kindOf } from '../kinds';
import { coverageOf } from '../masks/coverage';
import { lightMap } from '../painting/table';
import type { LayerCompiler } from './layer-compiler';
import type { Layer, Stack } from './schema';

/** What of a stack is shown as greys instead of the picture: the mask of a layer, by its id; what any live layer's mask lets through; or a map that belongs to a layer. */
export type MapName = string;
/** The map of light of a layer: middle grey where there is none, a quarter of the way to white for each stop. */
export const lightMapOf = (layer: string): MapName => `${LIGHT}${layer}`;
const LIGHT = 'light ';
/** What a layer's controls on the photo stand for, as its kind tells. */
export const controlMapOf = (layer: string): MapName => `${CONTROLS}${layer}`;
const CONTROLS = 'controls ';
/** The masks of all layers together. */
export const EVERY_MASK: MapName = '*';

const GREY_A_STOP = 0.25;

/** The expression of a map, on what lies beneath its layer. Nothing is let through where there is no such layer. */
export function mapImage(name: MapName, { layers }: Stack, compiler: LayerCompiler, place: FilmPlace): Image {
  const layerIn = (prefix: string): Layer | undefined => compiler.byId.get(name.slice(prefix.length));
  if (name.startsWith(LIGHT)) return greys(lightOf(layerIn(LIGHT), place));
  if (name.startsWith(CONTROLS)) return greys(controlsOf(layerIn(CONTROLS), place));
  if (name === EVERY_MASK) return greys(anyOf(touchedBy(layers, compiler), place) ?? everywhere(place));
  const layer = compiler.byId.get(name);
  return greys((layer && coverageOf({ ...layer.mask, on: true }, place, compiler.maskOf)) ?? everywhere(place));
}

const everywhere = (place: FilmPlace): Image => inverted(nothing(place));

/** What live layers land on: coverage each, or nothing for all of the picture. A group without a mask lands where its layers do. */
function touchedBy(layers: readonly Layer[], compiler: LayerCompiler): readonly (Image | undefined)[] {
  return layers
    .filter(({ on, strength }) => on && strength > 0)
    .flatMap((layer) => {
      const own = compiler.maskOf(layer.id);
      return own || layer.kind !== 'group' ? [own] : touchedBy(layer.layers, compiler);
    });
}

function anyOf(all: readonly (Image | undefined)[], place: FilmPlace): Image | undefined {
  const coverage = all.filter((it) => it !== undefined);
  return coverage.length < all.length ? undefined : coverage.reduce(either, nothing(place));
}

function controlsOf(layer: Layer | undefined, place: FilmPlace): Image {
  const map = layer && layer.kind !== 'group' ? kindOf(layer.kind).map?.(layer.params as never, place) : undefined;
  return map ?? nothing(place);
}

function lightOf(layer: Layer | undefined, place: FilmPlace): Image {
  if (!layer || layer.kind === 'group') return scaled(nothing(place), GREY_A_STOP, 0.5);
  const painted = Object.entries(kindOf(layer.kind).params).find(([, { type }]) => type === 'strokes');
  const name = painted && String(layer.params[painted[0]]);
  return scaled(name ? lightMap(name, place, nothing(place)) : nothing(place), GREY_A_STOP, 0.5);
}
