import { byTone, cdl, fromOklab, toOklab } from '../expressions/colour';
import { defineKind } from './define';
import { angle, number, percent, type NumberParam } from '../params';
import { lightnessTable, rise, tint } from './tables';

const FULL = 0.16;
const LIFT = 0.25;

export const zones = [
  { id: 'shadows', label: 'Shadows' },
  { id: 'middle', label: 'Middle' },
  { id: 'highlights', label: 'Highlights' },
  { id: 'all', label: 'All' },
] as const;
type ZoneId = (typeof zones)[number]['id'];

type ZoneNames = `${ZoneId}${'Hue' | 'Amount' | 'Lightness'}`;
const zoneParams = Object.fromEntries(
  zones.flatMap(({ id, label: section }) => [
    [`${id}Hue`, angle({ label: 'Hue', at: 0, section, amount: `${id}Amount` })],
    [`${id}Amount`, percent({ label: 'Amount', section })],
    [`${id}Lightness`, percent({ label: 'Lightness', min: -1, section })],
  ]),
) as Record<ZoneNames, NumberParam>;

const listParams = {
  slopeRed: number({ label: 'Slope red', max: 4, at: 1, middle: 1, section: 'List' }),
  slopeGreen: number({ label: 'Slope green', max: 4, at: 1, middle: 1, section: 'List' }),
  slopeBlue: number({ label: 'Slope blue', max: 4, at: 1, middle: 1, section: 'List' }),
  offsetRed: number({ label: 'Offset red', min: -1, step: 0.005, section: 'List' }),
  offsetGreen: number({ label: 'Offset green', min: -1, step: 0.005, section: 'List' }),
  offsetBlue: number({ label: 'Offset blue', min: -1, step: 0.005, section: 'List' }),
  powerRed: number({ label: 'Power red', min: 0.1, max: 4, at: 1, middle: 1, section: 'List' }),
  powerGreen: number({ label: 'Power green', min: 0.1, max: 4, at: 1, middle: 1, section: 'List' }),
  powerBlue: number({ label: 'Power blue', min: 0.1, max: 4, at: 1, middle: 1, section: 'List' }),
  saturation: number({ label: 'Saturation', max: 4, at: 1, middle: 1, section: 'List' }),
};

/** Weights of shadows, middle and highlights at a lightness; they sum to 1. `blending` widens where they meet, `balance` moves it. */
export function zoneWeights(lightness: number, blending: number, balance: number): readonly [number, number, number] {
  const width = 0.06 + 0.3 * blending;
  const move = 0.2 * balance;
  const above = rise(0.36 - move - width, 0.36 - move + width, lightness);
  const bright = rise(0.7 - move - width, 0.7 - move + width, lightness);
  return [1 - above, above - Math.min(above, bright), Math.min(above, bright)];
}

/**
 * A tint and a lift for shadows, middle tones, highlights and all, in OKLab, so that tints leave lightness alone; before that the ASC colour decision
 * list (version 1.2): slope, offset, power, saturation on encoded values.
 */
export const grade = defineKind({
  id: 'grade',
  family: 'colour',
  label: 'Grade',
  note: 'Colours shadows, middle and highlights apart.',
  space: 'encoded',
  params: {
    ...zoneParams,
    blending: percent({ label: 'Blending', at: 0.5, section: 'All' }),
    balance: percent({ label: 'Balance', min: -1, section: 'All' }),
    ...listParams,
  },
  listed: 'List',
  byDefault: 'neutral',
  shown: { shadowsHue: 235, shadowsAmount: 0.45, highlightsHue: 65, highlightsAmount: 0.45 },
  variants: [
    { label: 'Teal and amber', params: { shadowsHue: 220, shadowsAmount: 0.4, highlightsHue: 65, highlightsAmount: 0.4 } },
    { label: 'Moonlit', params: { allHue: 255, allAmount: 0.3, shadowsLightness: -0.3, saturation: 0.7 } },
    { label: 'Lamp light', params: { allHue: 68, allAmount: 0.3, highlightsHue: 90, highlightsAmount: 0.3 } },
  ],
  work: (read, values) => {
    const v = values as unknown as Record<string, number>;
    const of = (stem: string): number[] => ['Red', 'Green', 'Blue'].map((c) => v[`${stem}${c}`] as number);
    const [slope, offset, power] = [of('slope'), of('offset'), of('power')];
    const plain = slope.every((x) => x === 1) && offset.every((x) => x === 0) && power.every((x) => x === 1) && values.saturation === 1;
    const listed = plain ? read : cdl(read, slope, offset, power, values.saturation);
    const parts = zones.map(({ id }) => ({
      ...tint(v[`${id}Hue`] as number, FULL * (v[`${id}Amount`] as number)),
      lift: LIFT * (v[`${id}Lightness`] as number),
    }));
    if (parts.every(({ a, b, lift }) => a === 0 && b === 0 && lift === 0)) return listed;
    const id = `grade ${JSON.stringify(parts)} ${values.blending} ${values.balance}`;
    const table = lightnessTable(id, (l) => {
      const weights = [...zoneWeights(l, values.blending, values.balance), 1];
      const sum = (key: 'a' | 'b' | 'lift'): number => parts.reduce((total, part, i) => total + part[key] * (weights[i] as number), 0);
      return { lift: sum('lift') * 4 * l * (1 - l), a: sum('a'), b: sum('b'), keep: 1 };
    });
    return fromOklab(byTone(toOklab(listed), table));
  },
});
