import equal from 'fast-deep-equal';
import type { KindLayer, Layer } from '../stack/schema';

export type Three = readonly [number, number, number];

/** One colour correction of the ASC colour decision list (version 1.2). */
export interface Correction {
  readonly id: string;
  readonly slope: Three;
  readonly offset: Three;
  readonly power: Three;
  readonly saturation: number;
}

export const plainCorrection: Omit<Correction, 'id'> = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };
const NAMESPACE = 'urn:ASC:CDL:v1.01';
const CHANNELS = ['Red', 'Green', 'Blue'] as const;
const LIMITS = { slope: [0, 4], offset: [-1, 1], power: [0.1, 4] } as const;

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string);
const figure = (value: number): string => String(Number(value.toFixed(6)));

const body = ({ id, slope, offset, power, saturation }: Correction, indent: string, attributes = ''): string =>
  [
    `<ColorCorrection id="${escaped(id)}"${attributes}>`,
    `  <SOPNode>`,
    ...Object.entries({ Slope: slope, Offset: offset, Power: power }).map(
      ([name, values]) => `    <${name}>${values.map(figure).join(' ')}</${name}>`,
    ),
    `  </SOPNode>`,
    `  <SatNode>`,
    `    <Saturation>${figure(saturation)}</Saturation>`,
    `  </SatNode>`,
    `</ColorCorrection>`,
  ]
    .map((line) => `${indent}${line}`)
    .join('\n');
const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n';

/** One correction as a .cc file. */
export const writeCc = (correction: Correction): string => `${HEAD}${body(correction, '', ` xmlns="${NAMESPACE}"`)}\n`;
/** Several as a .ccc file. */
export const writeCcc = (all: readonly Correction[]): string =>
  `${HEAD}<ColorCorrectionCollection xmlns="${NAMESPACE}">\n${all.map((each) => body(each, '  ')).join('\n')}\n</ColorCorrectionCollection>\n`;

/** The correction of a Grade layer. */
export function correctionOf({ name, params }: Pick<KindLayer, 'name' | 'params'>): Correction {
  const of = (stem: string): Three => CHANNELS.map((channel) => Number(params[`${stem}${channel}`])) as unknown as Three;
  return { id: name, slope: of('slope'), offset: of('offset'), power: of('power'), saturation: Number(params['saturation']) };
}

/** The params of a Grade layer with a correction; what goes further than the layer can is held at its ends, and told. */
export function gradeOf(correction: Correction): { readonly params: Record<string, number>; readonly held: boolean } {
  let held = false;
  const within = (value: number, [least, most]: readonly [number, number]): number => {
    const to = Math.min(most, Math.max(least, value));
    held ||= to !== value;
    return to;
  };
  const channels = Object.entries(LIMITS).flatMap(([stem, limits]) =>
    CHANNELS.map((channel, c) => [`${stem}${channel}`, within(correction[stem as keyof typeof LIMITS][c] as number, limits)] as const),
  );
  return { params: { ...Object.fromEntries(channels), saturation: within(correction.saturation, [0, 4]) }, held };
}

/** Corrections of all live Grade layers that have one, in the order of the light. */
export function correctionsOf(layers: readonly Layer[]): Correction[] {
  return layers.flatMap((layer): Correction[] => {
    if (!layer.on) return [];
    if (layer.kind === 'group') return correctionsOf(layer.layers);
    if (layer.kind !== 'grade') return [];
    const correction = correctionOf(layer);
    const { id: _id, ...values } = correction;
    return equal(values, plainCorrection) ? [] : [correction];
  });
}

/**
 * Whether a chain of corrections can differ from what Bexlen makes: by the list (ASC CDL 1.2) a program cuts what saturation drives beyond black and white before the next correction, and
 * here it goes on.
 */
export const cutsBetween = (chain: readonly Correction[]): boolean => chain.slice(0, -1).some(({ saturation }) => saturation > 1);
