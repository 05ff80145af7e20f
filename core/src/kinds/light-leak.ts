import { oklabToLinear } from '../pixels/colour';
import { only, sum } from '../expressions/image';
import { flatLight, shoulder } from '../expressions/colour';
import { both, oval, scaled, strip } from '../expressions/coverage';
import { defineKind } from './define';
import { angle, choice, percent, seed } from '../params';
import { tint } from './tables';

const SIDES = { left: 90, right: -90, top: 180, bottom: 0 } as const;

/** Numbers 0..1 that follow from a seed. */
const chance = (seed: number, i: number): number => {
  const v = Math.sin(seed * 12.9898 + i * 78.233) * 43758.5453;
  return v - Math.floor(v);
};

/** Stray light that fell onto the film from one edge. */
export const lightLeak = defineKind({
  id: 'light-leak',
  family: 'film',
  label: 'Light leak',
  note: 'Stray light from an edge of the film.',
  space: 'linear',
  params: {
    amount: percent({ label: 'Amount', at: 0.6 }),
    side: choice('From', [
      { id: 'left', label: 'Left' },
      { id: 'right', label: 'Right' },
      { id: 'top', label: 'Above' },
      { id: 'bottom', label: 'Below' },
    ]),
    size: percent({ label: 'Size', at: 0.4 }),
    hue: angle({ label: 'Hue', at: 48, amount: 'colour' }),
    colour: percent({ label: 'Colour', at: 0.75 }),
    seed: seed(),
  },
  byDefault: 'A warm leak from the left.',
  work: (read, { amount, side, size, hue, colour, seed: own }, place) => {
    if (amount === 0) return read;
    const across = side === 'left' || side === 'right';
    const reach = 0.08 + 0.5 * size;
    const turn = SIDES[side as keyof typeof SIDES] + (chance(own, 1) - 0.5) * 26;
    const [dx, dy] = { left: [-0.5, 0], right: [0.5, 0], top: [0, -0.34], bottom: [0, 0.34] }[side as keyof typeof SIDES] as [number, number];
    const fan = strip({ x: dx, y: dy, angleDeg: turn + 180, from: -9, rise: 1, to: reach, fall: reach }, place);
    const along = (chance(own, 2) - 0.5) * 0.5;
    const blot = oval(
      {
        x: dx + (across ? 0 : along),
        y: dy + (across ? along : 0),
        across: across ? 0.3 + reach : 0.5,
        down: across ? 0.4 : 0.2 + reach,
        angleDeg: 0,
        box: 0,
        inner: 0,
      },
      place,
    );
    const { a, b } = tint(hue, 0.2 * colour);
    const light = oklabToLinear([0.82, a, b]).map((v) => Math.max(0, v)) as [number, number, number];
    const wide = only(flatLight(read, light, place.gamut), both(fan, scaled(blot, 0.75, 0.25)));
    const core = only(
      flatLight(read, [1, 0.75, 0.5], place.gamut),
      both(strip({ x: dx, y: dy, angleDeg: turn + 180, from: -9, rise: 1, to: reach * 0.35, fall: reach * 0.35 }, place), blot),
    );
    return shoulder(sum(sum(read, wide, 1, 0.8 * amount), core, 1, 0.5 * amount), 0.8);
  },
});
