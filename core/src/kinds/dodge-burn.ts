import { lightMap } from '../painting/table';
import { exposed } from '../expressions/colour';
import { nothing } from '../expressions/coverage';
import { defineKind } from './define';
import { lights, percent } from '../params';

/** Light given and taken by hand, in stops that add up where strokes cross. Black stays black and white does not clip. */
export const dodgeBurn = defineKind({
  id: 'dodge-burn',
  family: 'hand',
  label: 'Dodge and burn',
  note: 'Light given or taken by hand, in stops.',
  space: 'linear',
  params: {
    strokes: lights('Strokes'),
    scale: percent({ label: 'Scale', min: -1, max: 2, at: 1 }),
    whites: percent({ label: 'Protect whites', at: 0.3 }),
  },
  byDefault: 'neutral',
  work: (read, { strokes, scale, whites }, place) =>
    strokes === '' || scale === 0 ? read : exposed(read, lightMap(strokes, place, nothing(place)), scale, whites, 1),
});
