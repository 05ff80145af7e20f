import { bands, bandWeights } from '../pixels/bands';

/** Blend modes that were called otherwise up to schema 1. */
const MODES: Readonly<Record<string, string>> = {
  'linear-dodge': 'add',
  'linear-burn': 'deepen',
  'linear-light': 'push',
  'vivid-light': 'etch',
  'pin-light': 'outdo',
  'darker-color': 'darker-of-two',
  'lighter-color': 'lighter-of-two',
};

/** The eight bands of hue up to schema 1, by their centres in degrees of OKLab hue. */
const BANDS: Readonly<Record<string, number>> = { red: 27, orange: 58, yellow: 105, green: 143, aqua: 195, blue: 258, purple: 302, magenta: 340 };
const CENTRES = Object.values(BANDS);

/** Kinds with a share for each band, and the stems that their params are named by. */
const STEMS: Readonly<Record<string, readonly string[]>> = { 'mono-mix': [''], 'hue-bands': ['hue', 'saturation', 'lightness'] };

type Fields = Readonly<Record<string, unknown>>;
const isFields = (value: unknown): value is Fields => typeof value === 'object' && value !== null && !Array.isArray(value);
const named = (stem: string, id: string): string => (stem ? `${stem}${id.charAt(0).toUpperCase()}${id.slice(1)}` : id);

/**
 * A stack or a look of schema 1 or 2 in the words of today. Schema 1 had other names of blend modes, and eight bands of hue where there are nine; each of the nine gets what the
 * eight did at its centre. Schema 2 had no masks, which all have a default. Anything else is given back as it is, to be checked. Its size and depth must have been checked before.
 * @param number where it says which schema it has.
 */
export function fromOlder(input: unknown, number: 'schema' | 'look'): unknown {
  if (!isFields(input) || (input[number] !== 1 && input[number] !== 2)) return input;
  return { ...input, [number]: 3, ...(input[number] === 1 && 'layers' in input && { layers: layersOf(input['layers']) }) };
}

const layersOf = (layers: unknown): unknown => (Array.isArray(layers) ? layers.map(layerOf) : layers);

function layerOf(layer: unknown): unknown {
  if (!isFields(layer)) return layer;
  const { blend, kind, params, layers } = layer;
  const stems = STEMS[String(kind)];
  return {
    ...layer,
    ...(typeof blend === 'string' && blend in MODES && { blend: MODES[blend] }),
    ...(stems && isFields(params) && { params: stems.reduce(withNineBands, params) }),
    ...('layers' in layer && { layers: layersOf(layers) }),
  };
}

function withNineBands(params: Fields, stem: string): Fields {
  const old = Object.keys(BANDS).map((id) => params[named(stem, id)] ?? 0);
  if (!old.every((value) => typeof value === 'number' && Number.isFinite(value))) return params;
  const names = new Set(Object.keys(BANDS).map((id) => named(stem, id)));
  const rest = Object.fromEntries(Object.entries(params).filter(([name]) => !names.has(name)));
  const at = (hue: number): number => bandWeights(hue, CENTRES).reduce((sum, weight, i) => sum + weight * (old[i] as number), 0);
  const nine = bands.map(({ id, hue }) => [named(stem, id), Math.round(1e4 * at(hue)) / 1e4]);
  return { ...rest, ...Object.fromEntries(nine) };
}
