import { gaussian } from '../expressions/image';
import { crisp } from '../expressions/detail';
import { defineKind } from './define';
import { length, number, percent } from '../params';

/** Unsharp mask on lightness: what a tone differs from its surroundings is added; colour stays. */
export const sharpen = defineKind({
  id: 'sharpen',
  family: 'focus',
  label: 'Sharpen',
  note: 'Rims along edges, on lightness alone.',
  space: 'encoded',
  close: true,
  params: {
    amount: number({ label: 'Amount', max: 5, at: 1, step: 0.05, middle: 1.5 }),
    radius: length({ label: 'Radius', min: 0.0001, max: 0.01, at: 0.0005, step: 0.00005, middle: 0.001 }),
    threshold: number({ label: 'Threshold', max: 0.1, at: 0.006, step: 0.001, middle: 0.02 }),
    light: percent({ label: 'Light rims up to', min: 0.01, max: 0.5, at: 0.14 }),
    dark: percent({ label: 'Dark rims up to', min: 0.01, max: 0.5, at: 0.2 }),
  },
  byDefault: 'Sharp for a screen; smooth places left alone.',
  variants: [
    { label: 'Screen', params: {} },
    { label: 'Fine detail', params: { radius: 0.0003, amount: 1.6 } },
    { label: 'Structure', params: { radius: 0.003, amount: 0.7, threshold: 0.01 } },
    { label: 'Pencil', params: { radius: 0.0012, amount: 4, threshold: 0.012, light: 0.35, dark: 0.5 } },
  ],
  work: (read, { amount, radius, threshold, light, dark }, { edge }) =>
    amount === 0 ? read : crisp(read, gaussian(read, Math.max(0.4, radius * edge)), amount, threshold, light, dark),
});
