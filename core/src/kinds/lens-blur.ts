import { defineKind } from './define';
import { angle, listed, percent } from '../params';
import { blurRadius, lensParams, lifted, softened, through } from './lens';

/** Out of focus as through a lens: in linear light, each point becomes the shape of the opening, and lamps become discs. */
export const lensBlur = defineKind({
  id: 'lens-blur',
  family: 'focus',
  label: 'Lens blur',
  note: 'Out of focus, as through a lens: lamps become discs.',
  space: 'linear',
  params: {
    radius: blurRadius(0.006),
    ...lensParams,
    blades: listed('Opening', [
      { id: '0', label: 'Round' },
      { id: '5', label: '5 blades' },
      { id: '6', label: '6 blades' },
      { id: '7', label: '7 blades' },
      { id: '8', label: '8 blades' },
      { id: '9', label: '9 blades' },
    ]),
    curve: percent({ label: 'Bent blades', at: 0.3 }),
    turn: angle({ label: 'Turn', min: -180, max: 180 }),
    squeeze: percent({ label: 'Width of the opening', min: 0.3, at: 1 }),
    rim: percent({ label: 'Bright rim', min: -1, max: 1 }),
  },
  byDefault: 'A round opening; highlights lifted a little.',
  variants: [
    { label: 'Lamps', params: { radius: 0.01, lift: 0.6 } },
    { label: 'Six blades', params: { blades: '6', curve: 0, radius: 0.009, lift: 0.4 } },
    { label: 'Narrow', params: { squeeze: 0.55, radius: 0.01, lift: 0.4 } },
    { label: 'Ringed', params: { rim: 0.8, radius: 0.01, lift: 0.4 } },
  ],
  work: (read, { radius, lift, threshold, blades, curve, turn, squeeze, rim }, { edge }) => {
    const shape = {
      radiusPx: radius * edge,
      blades: Number(blades),
      curve,
      turnDeg: turn,
      squeeze,
      rim,
      soft: false,
      sweep: 0,
      sweepDeg: 0,
      both: false,
    };
    return radius === 0 ? read : softened(through(lifted(read, lift, threshold), shape), lift);
  },
});
