import { unit } from '../clamp';
import { byTone } from '../expressions/colour';
import { defineKind } from './define';
import { angle, choice, percent } from '../params';
import { lightnessTable, rise, tint } from './tables';

/** OKLab chroma of a full tint, and how far the light and the dark end keep clear of it. */
const FULL = 0.13;
const ENDS = 0.7;

/** A print toned in one colour, or in two: one for the shadows, one for the highlights. Paper white and full black take no tint. */
export const toning = defineKind({
  id: 'toning',
  family: 'colour',
  label: 'Toning',
  note: 'Tones a print in one colour or two.',
  space: 'oklab',
  params: {
    tints: choice('Tints', [
      { id: 'one', label: 'One tint' },
      { id: 'pair', label: 'A pair' },
    ]),
    hue: angle({ label: 'Hue', at: 70, amount: 'amount' }),
    amount: percent({ label: 'Amount', at: 0.4 }),
    lightness: percent({ label: 'Lightness', min: -1 }),
    shadowHue: angle({ label: 'Shadow hue', at: 250, amount: 'shadowAmount' }),
    shadowAmount: percent({ label: 'Shadow amount', at: 0.3 }),
    balance: percent({ label: 'Balance', min: -1 }),
    colour: percent({ label: 'Own colour kept', at: 0 }),
  },
  byDefault: 'A brown print.',
  variants: [
    { label: 'Sepia', params: { hue: 75, amount: 0.45 } },
    { label: 'Warm brown', params: { hue: 58, amount: 0.35, lightness: -0.1 } },
    { label: 'Selenium', params: { hue: 340, amount: 0.14, lightness: -0.1 } },
    { label: 'Blue print', params: { hue: 250, amount: 0.75 } },
    { label: 'Gold and steel', params: { tints: 'pair', hue: 80, amount: 0.35, shadowHue: 245, shadowAmount: 0.35 } },
  ],
  work: (read, { tints, hue, amount, lightness, shadowHue, shadowAmount, balance, colour }) => {
    const one = tints === 'one';
    const id = `toning ${[tints, hue, amount, lightness, shadowHue, shadowAmount, balance, colour].join(' ')}`;
    const light = tint(hue, FULL * amount);
    const dark = one ? light : tint(shadowHue, FULL * shadowAmount);
    const middle = 0.5 + 0.3 * balance;
    return byTone(
      read,
      lightnessTable(id, (l) => {
        const share = one ? 1 : rise(middle - 0.3, middle + 0.3, l);
        const held = Math.sin(Math.PI * unit(l)) ** ENDS;
        return {
          lift: 0.25 * lightness * l * (1 - l) * 4,
          a: held * (dark.a + (light.a - dark.a) * share),
          b: held * (dark.b + (light.b - dark.b) * share),
          keep: colour,
        };
      }),
    );
  },
});
