import { paper as surface, shaded } from '../expressions/film';
import { defineKind } from './define';
import { angle, length, percent, seed } from '../params';

/** Light and shade at 100 %. */
const FULL = 1.1;

/** The tooth and the fibres of paper, lit from one side. They lie on the film, so they are the same at any size of the picture. */
export const paper = defineKind({
  id: 'paper',
  family: 'finish',
  label: 'Paper',
  note: 'Tooth and fibres of paper, lit from one side.',
  space: 'encoded',
  params: {
    amount: percent({ label: 'Amount', at: 0.35 }),
    size: length({ label: 'Tooth', min: 0.0008, max: 0.02, at: 0.003, step: 0.0001, middle: 0.005 }),
    fibre: percent({ label: 'Fibres', at: 0.25 }),
    light: angle({ label: 'Light from', min: -180, max: 180, at: -45 }),
    seed: seed(),
  },
  byDefault: 'Fine tooth with a few fibres.',
  variants: [
    { label: 'Smooth', params: { amount: 0.2, size: 0.002, fibre: 0.1 } },
    { label: 'Rough', params: { amount: 0.5, size: 0.006, fibre: 0.1 } },
    { label: 'Fibrous', params: { amount: 0.45, fibre: 0.85, size: 0.0035 } },
  ],
  work: (read, { amount, size, fibre, light, seed: own }, place) =>
    amount === 0 ? read : shaded(read, surface({ cells: 1 / size, fibre, lightDeg: light, seed: Math.round(own) }, place), FULL * amount),
});
